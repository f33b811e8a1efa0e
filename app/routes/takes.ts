import { data } from "react-router";
import { ingestAddress } from "#server/ingest/handler";
import { startForm } from "#server/recordings/takes";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/takes";

/**
 * Starts a take. The recorder sends and gets JSON: the address for its segments, and the link, which exists from now
 * on.
 */
export async function action({ context, request }: Route.ActionArgs) {
  const { member, runtime } = context.get(appContext);
  if (!member)
    return data({ error: "signed-out", message: "You are signed out. Sign in, then record." }, { status: 401 });
  const { value, error } = startForm.validate(await request.json().catch(() => null));
  if (error || value === null)
    return data({ error: "not-valid", message: error?.message ?? "The body is not JSON." }, { status: 422 });
  const take = await runtime.takes.start(member, value);
  return data(
    { ...take, ingest: ingestAddress(take.takeId), link: `${runtime.settings.publicUrl}/w/${take.token}` },
    { status: 201 },
  );
}
