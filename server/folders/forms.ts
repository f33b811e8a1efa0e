import Joi from "joi";
import { MOST_MOVED } from "#core/access/move";
import { COLLEAGUES_RIGHTS, FOLDER_RIGHTS } from "#core/access/folders";
import { NOTICE_TIMES } from "#core/notices/wishes";
import { inviteForm } from "../answers/forms";
import { jsonField, nameOf, plainText, uuidField, zoneField } from "../http/fields";

const folderField = uuidField.allow("").default(null).empty("");
const rightField = Joi.string()
  .valid(...FOLDER_RIGHTS)
  .required();

/** A new folder; in another one, or not. */
export const newFolderForm = Joi.object({ name: nameOf("the folder a name"), in: folderField });

/** What is to lie somewhere else. */
export const placingForm = Joi.object({
  recordings: jsonField("The recordings", Joi.array().items(uuidField).min(1).max(MOST_MOVED).unique(), 6_000),
  to: folderField,
  open: Joi.boolean().default(false),
});

/** Of whom it is asked who would see it: recordings, or a folder with all that is in it. */
export const sightQuery = placingForm
  .fork("recordings", (field) => field.optional())
  .append({ folder: uuidField })
  .xor("recordings", "folder");

/** When somebody without an account is mailed what is new in their folder. */
export const newsForm = Joi.object({
  news: Joi.string()
    .valid(...NOTICE_TIMES)
    .required(),
  zone: zoneField,
});

/** What is done with a folder. */
export const folderForms = {
  rename: Joi.object({ name: nameOf("the folder a name") }),
  colleagues: Joi.object({
    colleagues: Joi.string()
      .valid(...COLLEAGUES_RIGHTS)
      .default(null)
      .empty(""),
  }),
  move: Joi.object({ to: folderField }),
  remove: Joi.object({}),
  "take-out": Joi.object({ recording: uuidField.required() }),
  "add-people": Joi.object({ who: inviteForm.extract("who"), may: rightField }),
  right: Joi.object({ person: uuidField.required(), may: rightField }),
  "remove-person": Joi.object({ person: uuidField.required() }),
  "new-link": Joi.object({ person: uuidField.required() }),
};
export type FolderAct = keyof typeof folderForms;

export const findFolders = Joi.object({ q: plainText.trim().max(160).allow("").default("") });
