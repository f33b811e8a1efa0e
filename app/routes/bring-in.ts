import Joi from "joi";
import { data } from "react-router";
import { uuidField } from "#server/http/fields";
import { orRefused, readFields, refused } from "../services/fields.server";
import { appContext } from "../services/context.server";
import { ownRecording } from "../services/guard.server";
import type { Route } from "./+types/bring-in";

const form = Joi.object({
  /** the recording that is brought in */
  from: uuidField.required(),
  /** the version of the draft, as the person has seen it */
  version: Joi.number().integer().min(0).max(1_000_000).required(),
  /** the shown time at which it comes; the end where none is given */
  at: Joi.number().integer().min(0).max(Number.MAX_SAFE_INTEGER),
});
const WORDS_MAX = 200;

/** What another recording of the same person shows, put into the edit of this one. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const { member, runtime, address } = context.get(appContext);
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const { value, error } = form.validate(await orRefused(readFields(request)));
  if (error) return data({ error: error.message }, { status: 422 });
  try {
    const recording = await runtime.access.requireById(member, "change", params.id);
    await runtime.limits.take("edit", { viewer: member.id, address });
    const { id: from } = await runtime.access.requireById(member, "change", value.from);
    await runtime.bringIn.bring(recording, { from, version: value.version, at: value.at ?? null });
  } catch (problem) {
    return refused(problem);
  }
  return { error: null };
}

/** The recordings that could be brought in. */
export async function loader({ context, request, params }: Route.LoaderArgs) {
  const { member, runtime, recording } = await ownRecording(context.get(appContext), params.id);
  const { id } = recording;
  const words = (new URL(request.url).searchParams.get("q") ?? "").slice(0, WORDS_MAX).trim();
  return { choices: await runtime.bringIn.choices(member, id, words) };
}
