import { data } from "react-router";
import { Problem } from "#server/http/problem";
import { ownFigures } from "../services/guard.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/people";

/** Who was asked and who came, for the sender: what their page asks when somebody came or answered. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { member, runtime } = app;
  if (!member) throw data({ error: "You are signed out." }, { status: 401 });
  try {
    const { id } = await ownFigures(app, member, params.id);
    return { people: await runtime.people(id, await runtime.asks.of(id), Date.now()) };
  } catch (problem) {
    if (problem instanceof Problem) throw data({ error: problem.message }, { status: problem.status });
    throw problem;
  }
}
