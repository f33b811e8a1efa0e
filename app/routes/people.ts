import { data } from "react-router";
import { appContext } from "../services/context.server";
import { orRefused } from "../services/fields.server";
import { ownFigures } from "../services/guard.server";
import type { Route } from "./+types/people";

/** Who was asked and who came, for the sender: what their page asks when somebody came or answered. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { member, runtime } = app;
  if (!member) throw data({ error: "You are signed out." }, { status: 401 });
  const { id } = await orRefused(ownFigures(app, member, params.id));
  return runtime.people(id, await runtime.asks.of(id), Date.now());
}
