import { data } from "react-router";
import { may } from "#core/access/access";
import type { TakeSource } from "#core/media/tracks";
import type { SignedIn } from "#server/accounts/sessions";
import { Problem } from "#server/http/problem";
import { ingestAddress } from "#server/ingest/handler";
import { anotherForm, startForm, type StartedTake } from "#server/recordings/takes";
import { appContext, type AppContext } from "../services/context.server";
import type { Route } from "./+types/takes";

/**
 * Starts a take: the first of a new recording, or, where the body names a recording, another one of that. The recorder
 * sends and gets JSON: the address for its segments, and the link, which exists from now on.
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
  try {
    const take = isAnother
      ? await another(context.get(appContext), member, value)
      : await runtime.takes.start(member, value);
    return data(
      { ...take, ingest: ingestAddress(take.takeId), link: `${runtime.settings.publicUrl}/w/${take.token}` },
      { status: 201 },
    );
  } catch (problem) {
    if (!(problem instanceof Problem)) throw problem;
    return data({ error: problem.code, message: problem.message }, { status: problem.status });
  }
}

async function another(
  { runtime }: AppContext,
  member: SignedIn,
  { recording: id, source }: { recording: string; source: TakeSource },
): Promise<StartedTake> {
  const recording = await runtime.access.byId(id);
  if (!recording || !may(member, "feed", recording, Date.now()))
    throw new Problem(404, "not-found", "This recording is not there any more, or not yours.");
  return runtime.takes.another(id, source);
}
