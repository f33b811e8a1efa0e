import { data } from "react-router";
import { glanceOf } from "#server/sharing/glance";
import { orRefused } from "../services/fields.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/glance";

/** What its owner should look at before others see a recording. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { member, runtime } = context.get(appContext);
  if (!member) throw data({ error: "You are signed out." }, { status: 401 });
  return glanceOf(runtime, await orRefused(runtime.access.requireById(member, "change", params.id)));
}
