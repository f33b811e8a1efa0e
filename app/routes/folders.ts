import type Joi from "joi";
import { data } from "react-router";
import { findFolders, newFolderForm, placingForm } from "#server/folders/forms";
import type { Placing } from "#server/folders/contents";
import { orRefused, readFields, refused } from "../services/fields.server";
import { appContext } from "../services/context.server";
import type { Route } from "./+types/folders";

const signedOut = () => data({ error: "You are signed out. Sign in, then try again." }, { status: 401 });

/** Folders to which something can be put, by a part of their names. */
export async function loader({ context, url }: Route.LoaderArgs) {
  const { member, runtime } = context.get(appContext);
  if (!member) throw signedOut();
  const { value, error } = findFolders.validate(Object.fromEntries(url.searchParams), { stripUnknown: true });
  if (error) throw data({ error: error.message }, { status: 400 });
  return { found: await runtime.folders.find(member, (value as { q: string }).q) };
}

const FORMS: Record<string, Joi.ObjectSchema> = { make: newFolderForm, put: placingForm };

/** A folder is made, or recordings are put into one. */
export async function action({ context, request }: Route.ActionArgs) {
  const { member, runtime, address } = context.get(appContext);
  if (!member) return signedOut();
  const { do: deed = "", ...fields } = await orRefused(readFields(request));
  const form = Object.hasOwn(FORMS, deed) ? FORMS[deed]! : null;
  if (!form) return data({ error: "There is nothing of that name to be done." }, { status: 422 });
  const { value, error } = form.validate(fields, { stripUnknown: true });
  if (error) return data({ error: error.message }, { status: 422 });
  try {
    await runtime.limits.take("folder", { viewer: member.id, address });
    if (deed === "put") await runtime.folderContents.put(member, value as Placing);
    const { name, in: parentId } = value as { name: string; in: string | null };
    const id = deed === "make" ? await runtime.folders.make(member, { name, parentId }) : null;
    return data({ error: null, id });
  } catch (problem) {
    return refused(problem);
  }
}
