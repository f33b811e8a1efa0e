import Joi from "joi";
import { data } from "react-router";
import { SEEN_BY } from "#core/places/kinds";
import { requireOutside } from "#server/access/require";
import { uuidField } from "#server/http/fields";
import { appContext } from "../services/context.server";
import { ownRecording } from "../services/guard.server";
import { orRefused, readFields, refused } from "../services/fields.server";
import type { Route } from "./+types/sendings";

/** The outside places of a recording of one's own: where it is, and where it could be. */
export async function loader({ context, params }: Route.LoaderArgs) {
  const { runtime, recording } = await ownRecording(context.get(appContext), params.id);
  const { id } = recording;
  const [rows, { revision }] = await Promise.all([runtime.sendings.of(id), runtime.editing.stretches(id)]);
  return { rows, revision };
}

const form = Joi.object({
  do: Joi.string().valid("send", "seen-by", "take-away").required(),
  place: Joi.when("do", { is: "send", then: uuidField.required() }),
  sending: Joi.when("do", { is: Joi.valid("seen-by", "take-away"), then: uuidField.required() }),
  /** at a channel */
  seenBy: Joi.string()
    .valid(...SEEN_BY)
    .when("do", { is: "seen-by", then: Joi.required() }),
});

/** It is sent to a place, seen there by others than before, or taken away from it. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const { member, runtime, address } = context.get(appContext);
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const { value, error } = form.validate(await orRefused(readFields(request)), { stripUnknown: true });
  if (error) return data({ error: error.message }, { status: 422 });
  try {
    const { id, workspaceId } = await runtime.access.requireById(member, "change", params.id);
    await runtime.limits.take("sendOut", { viewer: member.id, address });
    if (value.do === "take-away") await runtime.sendings.takeAway(id, value.sending);
    else {
      requireOutside(member, workspaceId);
      if (value.do === "seen-by") await runtime.sendings.seenBy(id, value.sending, value.seenBy);
      else await runtime.sendings.send(id, value.place, value.seenBy);
    }
    return data({ error: null });
  } catch (problem) {
    return refused(problem);
  }
}
