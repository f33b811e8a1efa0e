import { orRefused } from "../services/fields.server";
import { appContext } from "../services/context.server";
import { ownRecording } from "../services/guard.server";
import type { Route } from "./+types/revisions";

/** What was published of a recording, or what one of these shows: for its owner. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { runtime, recording } = await ownRecording(context.get(appContext), params.id);
  const { id } = recording;
  if (params.number === undefined) return { revisions: await runtime.revisions.of(id), shown: null };
  const number = /^[1-9]\d{0,5}$/.test(params.number) ? Number(params.number) : 0;
  return { revisions: null, shown: await orRefused(runtime.revisions.one(id, number)) };
}
