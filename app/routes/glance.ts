import { glanceOf } from "#server/sharing/glance";
import { appContext } from "../services/context.server";
import { ownRecording } from "../services/guard.server";
import type { Route } from "./+types/glance";

/** What its owner should look at before others see a recording. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { runtime, recording } = await ownRecording(context.get(appContext), params.id);
  return glanceOf(runtime, recording);
}
