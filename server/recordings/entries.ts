import Joi from "joi";
import { MOST_FADE, MOST_LAYERS, SHAPES } from "#core/layout/scene";
import { ENTRIES_AT_ONCE, NOTES, POINT_MAX, type Entry } from "#core/layout/entry";
import { TAKE_SPAN } from "#core/recipe/source-line";
import type { Database } from "../database/connection";
import { plainText, trackNameField, uuidField } from "../http/fields";
import { Problem } from "../http/problem";
import { PUT_ENTRIES } from "./sql";
import { closed } from "./takes";

/** How many entries one take has. */
const MOST_ENTRIES = 5_000;

const share = Joi.number().min(0).max(1).required();
const scene = Joi.object({
  layers: Joi.array()
    .max(MOST_LAYERS)
    .items(
      Joi.object({
        track: trackNameField.required(),
        rect: Joi.object({ x: share, y: share, width: share, height: share }).required(),
        shape: Joi.string()
          .valid(...SHAPES)
          .required(),
      }),
    )
    .required(),
  fade: Joi.number().integer().min(0).max(MOST_FADE),
});

const note = Joi.object({
  what: Joi.string()
    .valid(...NOTES)
    .required(),
  text: plainText.allow("").max(POINT_MAX).required(),
});

/** What a recorder tells of what happened in its take. */
export const entriesForm = Joi.object({
  entries: Joi.array()
    .max(ENTRIES_AT_ONCE)
    .unique("id")
    .items(
      Joi.object({
        id: uuidField.required(),
        version: Joi.number().integer().min(1).max(1_000_000).required(),
        kind: Joi.string().valid("scene", "note").required(),
        at: Joi.number().integer().min(0).max(TAKE_SPAN).required(),
        body: Joi.when("kind", { is: "note", then: note.allow(null), otherwise: scene.allow(null) }).required(),
      }),
    )
    .required(),
});

/**
 * Takes in what happened in a take. The same again changes nothing.
 * @throws {Problem} 409 when the take is closed, 422 when it has too many
 */
export async function putEntries(db: Database, takeId: string, entries: Entry[]): Promise<void> {
  await db.sequelize.transaction(async (transaction) => {
    const bind = [takeId, JSON.stringify(entries)];
    const [row] = await db.rows<{ open: number; total: number }>(PUT_ENTRIES, bind, transaction);
    if (row!.open === 0) throw closed();
    if (row!.total > MOST_ENTRIES)
      throw new Problem(422, "too-many-entries", `A take has at most ${MOST_ENTRIES} entries.`);
  });
}
