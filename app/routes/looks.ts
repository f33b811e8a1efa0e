import { appContext } from "../services/context.server";
import { ownRecording } from "../services/guard.server";
import type { Route } from "./+types/looks";

/** What is known of the sounds and pictures of a recording's takes, for its owner. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { runtime, recording } = await ownRecording(context.get(appContext), params.id);
  const { id } = recording;
  return { looks: await runtime.looks.of(id) };
}
