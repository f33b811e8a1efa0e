import Joi from "joi";
import { data } from "react-router";
import { MOST_TAKES, TAKE_SPAN } from "#core/recipe/source-line";
import { shownLineOf } from "#server/recordings/shown-lines";
import { orRefused } from "../services/fields.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/place";

const form = Joi.object({
  revision: Joi.number().integer().min(1).max(1_000_000).required(),
  at: Joi.array()
    .items(
      Joi.number()
        .integer()
        .min(0)
        .max(MOST_TAKES * TAKE_SPAN),
    )
    .min(1)
    .max(4)
    .required(),
});

/**
 * Where moments of an earlier revision are shown now, for a page that was open when another one was published. What is
 * left out is where it was taken out.
 */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const { subject, runtime } = context.get(appContext);
  const { id } = await orRefused(runtime.access.require(subject, "watch", params.token));
  const { searchParams } = new URL(request.url);
  const asked = { revision: searchParams.get("revision"), at: searchParams.getAll("at") };
  const { value, error } = form.validate(asked);
  if (error) throw data({ error: error.message }, { status: 422 });
  const { revision, at } = value as { revision: number; at: number[] };
  const [before, now] = await orRefused(
    Promise.all([shownLineOf(runtime.db, id, revision), shownLineOf(runtime.db, id)]),
  );
  return { at: at.map((moment) => now.toShown(before.toSource(moment)).shown) };
}
