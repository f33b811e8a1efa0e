import Joi from "joi";
import { MOST_FADE, MOST_LAYERS, SHAPES } from "#core/layout/scene";
import { MARK_COLOURS, MARK_TEXT_MAX, MOST_DRAWN_MS, MOST_MARKS, MOST_POINTS, TOOLS } from "#core/layout/mark";
import { ENTRIES_AT_ONCE, NOTES, POINT_MAX, type Entry } from "#core/layout/entry";
import { TAKE_SPAN } from "#core/recipe/source-line";
import type { Database } from "../database/connection";
import { oneOf, plainText, trackNameField, uuidField } from "../http/fields";
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
        shape: oneOf(SHAPES),
      }),
    )
    .required(),
  fade: Joi.number().integer().min(0).max(MOST_FADE),
});

const note = Joi.object({
  what: oneOf(NOTES),
  text: plainText.allow("").max(POINT_MAX).required(),
  since: Joi.when("what", {
    is: "backed-up",
    then: Joi.number().integer().min(0).max(TAKE_SPAN).required(),
    otherwise: Joi.forbidden(),
  }),
});

const drawn = Joi.number().min(0).max(MOST_DRAWN_MS);
const mark = Joi.object({
  tool: oneOf(TOOLS),
  colour: oneOf(MARK_COLOURS),
  path: Joi.array()
    .min(3)
    .max(3 * MOST_POINTS)
    .items(drawn)
    .custom((path: number[], helpers) => (isPath(path) ? path : helpers.error("any.invalid")))
    .required(),
  text: plainText.allow("").max(MARK_TEXT_MAX).required(),
  staysMs: drawn.allow(null).required(),
  clearedAt: Joi.number().integer().min(0).max(TAKE_SPAN).allow(null).required(),
});

/** Points in shares, at times that do not go back. */
const isPath = (path: number[]) =>
  path.length % 3 === 0 &&
  path.every((value, i) => (i % 3 < 2 ? value <= 1 : i < 3 ? value === 0 : value >= path[i - 3]!));

const BODIES = { scene, note, mark };

/** What a recorder tells of what happened in its take. */
export const entriesForm = Joi.object({
  entries: Joi.array()
    .max(ENTRIES_AT_ONCE)
    .unique("id")
    .items(
      Joi.object({
        id: uuidField.required(),
        version: Joi.number().integer().min(1).max(1_000_000).required(),
        kind: oneOf(Object.keys(BODIES)),
        at: Joi.number().integer().min(0).max(TAKE_SPAN).required(),
        body: Joi.when("kind", {
          switch: Object.entries(BODIES).map(([is, body]) => ({ is, then: body.allow(null) })),
        }).required(),
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
    const [row] = await db.rows<{ open: number; total: number; marks: number }>(PUT_ENTRIES, bind, transaction);
    if (row!.open === 0) throw closed();
    if (row!.total > MOST_ENTRIES)
      throw new Problem(422, "too-many-entries", `A take has at most ${MOST_ENTRIES} entries.`);
    if (row!.marks > MOST_MARKS) throw new Problem(422, "too-many-marks", `A take has at most ${MOST_MARKS} marks.`);
  });
}
