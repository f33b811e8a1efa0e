import Joi from "joi";
import { kindOf } from "#core/media/tracks";
import { tidyName } from "#core/title/names";
import { Problem } from "./problem";

const UUID = /^[\da-f]{8}(?:-[\da-f]{4}){3}-[\da-f]{12}$/i;

/** A UUID in its one usual form (RFC 9562, 4), without brackets or braces about it. */
export const isUuid = (text: unknown): text is string => typeof text === "string" && UUID.test(text);

export const uuidField = Joi.string().pattern(UUID, "id");

/** Text that PostgreSQL can keep: without NUL, which no text of a person has. */
export const plainText = Joi.string().custom((value: string) => value.replaceAll("\0", ""));

/** One of some values, in JSON: it must be there. */
export const oneOf = (values: readonly unknown[]) =>
  Joi.any()
    .valid(...values)
    .required();

/** What has lists or parts in it comes as JSON in one field. @param what its name, for what is said of it */
export const jsonField = (what: string, schema: Joi.Schema, mostCharacters: number) =>
  Joi.string()
    .max(mostCharacters)
    .required()
    .custom((text: string, helpers) => {
      try {
        const { value, error } = schema.validate(JSON.parse(text), { stripUnknown: true });
        return error ? helpers.message({ custom: error.message }) : (value as unknown);
      } catch {
        return helpers.message({ custom: `${what} is no JSON.` });
      }
    });

/** A moment as PostgreSQL writes it: `2026-11-30 14:05:00.123456+00`. */
export const timestampField = Joi.string().pattern(
  /^\d{4}-\d{2}-\d{2} \d{2}:\d{2}:\d{2}(?:\.\d{1,6})?[+-]\d{2}(?::\d{2})?$/,
);

/** What a list goes on after, for an address: the place of its last row, and its id. */
export const writeJsonCursor = (place: string, id: string): string =>
  Buffer.from(JSON.stringify([place, id])).toString("base64url");

/** What a list goes on after, as it was written into an address. @throws {Problem} 400 for what was made up */
export function readJsonCursor(text: string, schema: Joi.ArraySchema): unknown[] {
  try {
    const value: unknown = JSON.parse(Buffer.from(text, "base64url").toString("utf8"));
    if (!schema.validate(value).error) return value as unknown[];
  } catch {
    // falls through: whoever made it up gets the same answer
  }
  throw new Problem(400, "not-valid", "This page of the list cannot be found. Start again from the first.");
}

/** The name of a track: `screen`, `camera-2`. */
export const trackNameField = Joi.string().custom((value: string, helpers) =>
  kindOf(value) ? value : helpers.error("any.invalid"),
);

export const NAME_MAX = 80;

/** A name, as it is kept. @param what what is asked for when it is missing: `your name` */
export const nameOf = (what: string) =>
  Joi.string()
    .max(NAME_MAX)
    .required()
    .custom((value: string, helpers) => tidyName(value) || helpers.error("string.empty"))
    .messages({
      "any.required": `Give ${what}.`,
      "string.empty": `Give ${what}.`,
      "string.max": `Use at most ${NAME_MAX} characters.`,
    });

/** A day of the calendar that there is, `2026-11-30` (RFC 3339, 5.6, `full-date`). */
export const dayField = Joi.string()
  .pattern(/^\d{4}-\d{2}-\d{2}$/)
  .custom((value: string, helpers) => {
    const at = new Date(`${value}T00:00:00Z`);
    const same = !Number.isNaN(at.getTime()) && at.toISOString().slice(0, 10) === value;
    return same && value >= "1970" ? value : helpers.error("string.pattern.base");
  })
  .messages({ "string.pattern.base": "This is no date." });

/** A time zone by its IANA name, as far as this runtime knows it; another one is taken as UTC. */
export const zoneField = Joi.string().max(64).default("UTC").custom(knownZone);

/** The name that this runtime has for a time zone; UTC for what is none. */
export function knownZone(zone: string): string {
  try {
    return new Intl.DateTimeFormat("en", { timeZone: zone }).resolvedOptions().timeZone;
  } catch {
    return "UTC";
  }
}
