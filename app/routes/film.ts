import Joi from "joi";
import { data } from "react-router";
import type { Film } from "#server/films/films";
import { appContext } from "../services/context.server";
import { ownRecording } from "../services/guard.server";
import { orRefused, readFields, refused } from "../services/fields.server";
import type { Route } from "./+types/film";

/** Where the file of a recording of one's own stands. */
export async function loader({ context, params }: Route.LoaderArgs): Promise<Film> {
  const { runtime, recording } = await ownRecording(context.get(appContext), params.id);
  const { id } = recording;
  return runtime.films.of(id);
}

const form = Joi.object({ do: Joi.string().valid("make", "cancel").required() });

/** It is wanted, also where there is one already, or not wanted any more. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const { member, runtime, address } = context.get(appContext);
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const { value, error } = form.validate(await orRefused(readFields(request)), { stripUnknown: true });
  if (error) return data({ error: error.message }, { status: 422 });
  try {
    const { id } = await runtime.access.requireById(member, "change", params.id);
    if (value.do === "cancel") await runtime.films.cancel(id);
    else {
      await runtime.limits.take("film", { viewer: member.id, address });
      await runtime.films.ask(id, { anew: true });
    }
    return data({ error: null });
  } catch (problem) {
    return refused(problem);
  }
}
