import Joi from "joi";
import { data } from "react-router";
import { Problem } from "#server/http/problem";
import { audienceField, titleField } from "#server/recordings/takes";
import type { Route } from "./+types/recording";

const form = Joi.object({
  do: Joi.string().valid("rename", "share", "delete", "restore", "erase").required(),
  title: Joi.when("do", { is: "rename", then: titleField }),
  audience: Joi.when("do", { is: "share", then: audienceField.required() }),
});

/** What can be done with one recording from the library, the recorder or its own page. */
export async function action({ context, request, params }: Route.ActionArgs) {
  const { member, runtime } = context;
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const { value, error } = form.validate(Object.fromEntries(await request.formData()), { stripUnknown: true });
  const { error: noId } = Joi.string().uuid().validate(params.id);
  if (error || noId) return data({ error: (error ?? noId)!.message }, { status: 422 });
  const { library } = runtime;
  try {
    if (value.do === "rename") await library.rename(member, params.id, value.title);
    if (value.do === "share") await library.share(member, params.id, value.audience);
    if (value.do === "delete") await library.delete(member, params.id);
    if (value.do === "restore") await library.restore(member, params.id);
    if (value.do === "erase") await library.erase(member, params.id);
    return data({ error: null });
  } catch (problem) {
    if (problem instanceof Problem) return data({ error: problem.message }, { status: problem.status });
    throw problem;
  }
}
