import { data } from "react-router";
import { may } from "#core/access/access";
import type { TakeSource } from "#core/media/tracks";
import type { SignedIn } from "#server/accounts/sessions";
import { Problem } from "#server/http/problem";
import type { NewRecording } from "#server/recordings/make";
import { anotherForm, startForm, type Given, type StartedTake } from "#server/recordings/takes";
import { appContext, type AppContext } from "../services/context.server";
import type { Route } from "./+types/takes";

type First = NewRecording & { source: TakeSource; folder: string | null };
interface Another {
  recording: string;
  source: TakeSource;
}

/**
 * Starts a take: the first of a new recording, or, where the body names a recording, another one of that. The recorder
 * sends and gets JSON: the link, which exists from now on. A recorder that could not reach the server has begun by
 * itself; what it tells later is as good, however often it is told.
 */
export async function action({ context, request }: Route.ActionArgs) {
  const { member, runtime } = context.get(appContext);
  if (!member)
    return data({ error: "signed-out", message: "You are signed out. Sign in, then record." }, { status: 401 });
  const body: unknown = await request.json().catch(() => null);
  const isAnother = typeof body === "object" && body !== null && "recording" in body;
  const { value, error } = (isAnother ? anotherForm : startForm).validate(body);
  if (error || value === null)
    return data({ error: "not-valid", message: error?.message ?? "The body is not JSON." }, { status: 422 });
  const { takeId, by, workspace, ...begun } = value as Given & (First | Another);
  try {
    const take = await runtime.takes.startOnce(member, { takeId, by, workspace }, (as) =>
      "recording" in begun
        ? another(context.get(appContext), as, begun, takeId)
        : runtime.takes.start(as, begun, takeId),
    );
    return data({ ...take, link: `${runtime.settings.publicUrl}/w/${take.token}` }, { status: 201 });
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem;
    return data({ error: problem.code, message: problem.message }, { status: problem.status });
  }
}

async function another(
  { runtime }: AppContext,
  member: SignedIn,
  { recording: id, source }: Another,
  takeId?: string,
): Promise<StartedTake> {
  const recording = await runtime.access.byId(id);
  if (!recording || !may(member, "feed", recording, Date.now()))
    throw new Problem(404, "not-found", "This recording is not there any more, or not yours.");
  return runtime.takes.another(id, source, takeId);
}
