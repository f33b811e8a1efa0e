import { data } from "react-router";
import { removeSetUpForm, saveSetUpForm } from "#server/desk/set-ups";
import { orRefused, readFields, refused } from "../services/fields.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/set-ups";

const FORMS: Record<string, typeof saveSetUpForm> = { save: saveSetUpForm, remove: removeSetUpForm };

/** A person's own set-ups are kept and removed here; the recorder's page lists them. */
export async function action({ context, request }: Route.ActionArgs) {
  const app = context.get(appContext);
  const { member, runtime } = app;
  if (!member) return data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });
  const { do: deed, ...fields } = await orRefused(readFields(request));
  const form = FORMS[deed ?? ""];
  if (!form) return data({ error: "There is nothing of that name to be done." }, { status: 422 });
  const { value, error } = form.validate(fields, { stripUnknown: true });
  if (error) return data({ error: error.message }, { status: 422 });
  try {
    await runtime.limits.take("setUp", { viewer: member.id, address: app.address });
    if (deed === "save") await runtime.setUps.save(member.id, value);
    if (deed === "remove") await runtime.setUps.remove(member.id, value.id);
    return data({ error: null });
  } catch (problem) {
    return refused(problem);
  }
}
