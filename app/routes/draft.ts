import Joi from "joi";
import { data } from "react-router";
import { jsonField, uuidField } from "#server/http/fields";
import { orRefused, readFields, refused } from "../services/fields.server";
import { appContext } from "../services/context.server";
import { ownRecording } from "../services/guard.server";
import type { Route } from "./+types/draft";

const counted = Joi.number().integer().min(0).max(1_000_000);
const form = Joi.object({
  do: Joi.string().valid("save", "drop", "publish").required(),
  /** the version of the draft that is replaced, as the person has seen it */
  version: counted.required(),
  /** the revision that it changes */
  seen: Joi.when("do", { not: "drop", then: counted.min(1).required() }),
  /** the window that saves */
  by: Joi.when("do", { is: "save", then: uuidField.required() }),
  /** which of its saves it is: one that was on its way for long replaces none that was sent later */
  nth: Joi.when("do", { is: "save", then: counted.default(0) }),
  /** checked step by step by what reads it */
  history: Joi.when("do", { is: "save", then: jsonField("The edit", Joi.object().unknown(), 1_000_000) }),
});

/** The edit that its owner works on: kept, thrown away, or published. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const { member, runtime, address } = context.get(appContext);
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const fields = await orRefused(readFields(request));
  const { value, error } = form.validate(fields);
  if (error) return data({ error: error.message }, { status: 422 });
  try {
    const { id } = await runtime.access.requireById(member, "change", params.id);
    await runtime.limits.take(value.do === "publish" ? "edit" : "draft", { viewer: member.id, address });
    if (value.do === "drop") await runtime.drafts.drop(id, value.version);
    if (value.do === "save") return { error: null, version: await runtime.drafts.save(id, value) };
    if (value.do === "publish") await runtime.drafts.publish(id, value);
  } catch (problem) {
    return refused(problem);
  }
  return { error: null, version: null };
}

/** The draft as another window has left it. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { runtime, recording } = await ownRecording(context.get(appContext), params.id);
  const { id } = recording;
  return { draft: await runtime.drafts.of(id) };
}
