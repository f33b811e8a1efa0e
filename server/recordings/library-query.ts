import Joi from "joi";
import type { Owed } from "#core/answers/owed";
import { plainText, readJsonCursor, timestampField, uuidField } from "../http/fields";

export const SORTS = ["newest", "oldest", "title", "longest"] as const;
export type Sort = (typeof SORTS)[number];

/** The groups in their order; what is on its way stands first. */
export const OWED_GROUPS = ["arriving", "waiting", "answered", "nothing", "draft", "others"] as const satisfies Owed[];
/** Rows of each group on the first page. */
export const GROUP_ROWS = 10;
/** So far is counted how many a group has; nobody reads a larger number. */
export const MOST_COUNTED = 1_000;

export const libraryQuery = Joi.object({
  q: plainText.trim().max(160).allow("").default(""),
  sort: Joi.string()
    .valid(...SORTS)
    .default("newest"),
  show: Joi.string().valid("kept", "deleted").default("kept"),
  /** one group by what is owed, whole; null for all */
  group: Joi.string()
    .valid(...OWED_GROUPS)
    .default(null),
  after: Joi.string().max(400).default(null),
});

export interface LibraryQuery {
  q: string;
  sort: Sort;
  show: "kept" | "deleted";
  group: Owed | null;
  after: string | null;
}

/** What a page continues after: only what its order can be compared with. */
const CURSOR: Record<Sort, Joi.StringSchema> = {
  newest: timestampField,
  oldest: timestampField,
  title: plainText.max(200),
  longest: Joi.string().pattern(/^\d{1,15}$/),
};

export function readCursor(text: string | null, sort: Sort): [string, string] | null {
  if (text === null) return null;
  const schema = Joi.array().ordered(CURSOR[sort].required(), uuidField.required());
  return readJsonCursor(text, schema) as [string, string];
}

/** A text to be found anywhere in a title, every character of it as it is. */
export const likeOf = (q: string): string => (q === "" ? "" : `%${q.replace(/[\\%_]/g, "\\$&")}%`);
