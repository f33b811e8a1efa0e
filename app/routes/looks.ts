import { data } from "react-router";
import { orRefused } from "../services/fields.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/looks";

/** What is known of the sounds and pictures of a recording's takes, for its owner. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { member, runtime } = context.get(appContext);
  if (!member) throw data({ error: "You are signed out." }, { status: 401 });
  const { id } = await orRefused(runtime.access.requireById(member, "change", params.id));
  return { looks: await runtime.looks.of(id) };
}
