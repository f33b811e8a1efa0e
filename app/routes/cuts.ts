import { data } from "react-router";
import { appContext } from "../services/context.server";
import { orRefused } from "../services/fields.server";
import { ownFigures } from "../services/guard.server";
import type { Route } from "./+types/cuts";

/** What could be left out, what is, and where a change stands that is being published: for the sender. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const app = context.get(appContext);
  const { member, runtime } = app;
  if (!member) throw data({ error: "You are signed out." }, { status: 401 });
  const { id } = await orRefused(ownFigures(app, member, params.id));
  const [out, publication] = await Promise.all([runtime.editing.out(id), runtime.editing.state(id)]);
  // Asked over and over while something is made, what takes long is not looked at.
  const waits = publication?.state === "waiting";
  return { out, publication, proposals: waits ? null : await runtime.proposals.of(id, request.signal) };
}
