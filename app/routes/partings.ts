import { data } from "react-router";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/partings";

/** What becomes of somebody's workspaces, and who could get what they made, when their account ends. */
export async function loader({ context }: Route.LoaderArgs) {
  const { member, runtime } = context.get(appContext);
  if (!member) throw data({ error: "You are signed out." }, { status: 401 });
  return runtime.leaving.partings(member.id);
}
