import { randomUUID } from "node:crypto";
import type { Transaction } from "sequelize";
import { PICTURE_RATE } from "#core/media/tracks";
import { firstTake, inOrderOf, parseRecipe, withTake, type Recipe } from "#core/recipe/recipe";
import { startOfTake } from "#core/recipe/source-line";
import { SECOND, type Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import type { NewEvent } from "../live/events";
import { Problem } from "../http/problem";
import { COPY_PIECES, LAST_REVISION, MOVE_PIECES } from "./sql";

/** What pages are told when another revision is shown. */
export const PUBLISHED_EVENT: NewEvent = { kind: "revision", subject: null, senderOnly: false };

interface LastRevision {
  id: string;
  recordingId: string;
  number: number;
  recipe: unknown;
  grows: string | null;
  growsFromUs: Micros;
  closedUs: Micros;
  /** of the take that it shows as it grows: where that stands, and how long it is */
  position: number | null;
  takeUs: Micros;
}

/** The first revision of a recording: all of its first take, as it comes in. */
export async function publishFirst(
  db: Database,
  { recordingId, takeId }: { recordingId: string; takeId: string },
  transaction: Transaction,
): Promise<void> {
  await db.models.Revision.create(
    { id: randomUUID(), recordingId, number: 1, recipe: firstTake(), grows: takeId },
    { transaction },
  );
}

/** What was shown before, and after it all of another take as it comes in. The takes before are whole. */
export async function publishWithTake(
  db: Database,
  { recordingId, takeId, position }: { recordingId: string; takeId: string; position: number },
  transaction: Transaction,
): Promise<void> {
  const last = await lastRevision(db, recordingId, transaction);
  // Where the next take begins is on the grid of pictures, a little after the last sound.
  const takeUs = onGrid(last.takeUs);
  const end = startOfTake(last.position ?? 1) + takeUs;
  const recipe = withTake(parseRecipe(last.recipe), end, position);
  const closedUs = last.closedUs + (last.grows ? Math.max(0, takeUs - last.growsFromUs) : 0);
  const pieces = recipe.kept.length - 1;
  await publish(db, last, { recipe, grows: takeId, closedUs, pieces }, transaction);
}

/** What came of leaving a take out. `hidden`: another revision did not show it any more. */
export type LeftOut = "published" | "hidden" | "nothing-left";

/** Publishes what was shown before a take came in. */
export async function publishWithout(
  db: Database,
  { recordingId, takeId }: { recordingId: string; takeId: string },
  transaction: Transaction,
): Promise<LeftOut> {
  const last = await lastRevision(db, recordingId, transaction);
  if (last.grows !== takeId) return "hidden";
  const kept = parseRecipe(last.recipe).kept.slice(0, -1);
  // Nothing came of the takes before.
  if (kept.length === 0) return "nothing-left";
  const recipe: Recipe = { version: 2, kept };
  await publish(db, last, { recipe, grows: null, closedUs: last.closedUs, pieces: kept.length }, transaction);
  await db.models.Recording.update({ durationUs: last.closedUs }, { where: { id: recordingId }, transaction });
  return "published";
}

/**
 * Publishes what was shown in another order of its takes. All of them are whole.
 * @param takes their positions, in the order in which they are to be shown
 * @param seen the revision that was put in another order
 * @throws {Problem} 409 where another revision is shown by now, 422 for an order of other takes
 */
export async function publishInOrder(
  db: Database,
  { recordingId, takes, seen }: { recordingId: string; takes: readonly number[]; seen: number },
  transaction: Transaction,
): Promise<void> {
  const last = await lastRevision(db, recordingId, transaction);
  if (last.number !== seen)
    throw new Problem(409, "changed-meanwhile", "It was changed in another window meanwhile. Look at it again.");
  const end = startOfTake(last.position ?? 1) + onGrid(last.takeUs);
  let reordered;
  try {
    reordered = inOrderOf(parseRecipe(last.recipe), end, takes);
  } catch (error) {
    if (error instanceof RangeError)
      throw new Problem(422, "other-takes", "The order names other takes than are shown.");
    throw error;
  }
  const { recipe, moves, length } = reordered;
  const id = randomUUID();
  const revision = { id, recordingId, number: last.number + 1, recipe, grows: null, closedUs: length };
  await db.models.Revision.create(revision, { transaction });
  const [places, later] = [moves.map((m) => m.place), moves.map((m) => m.later)];
  await db.rows(MOVE_PIECES, [id, last.id, [...moves.keys()], places, later], transaction);
  // Another picture comes first: its poster is made anew.
  await db.models.Recording.update(
    { durationUs: length, posterKey: null },
    { where: { id: recordingId }, transaction },
  );
}

/** Publishes a recipe after the last revision, with as many of its pieces, closed as they are now. */
async function publish(
  db: Database,
  last: LastRevision,
  { recipe, grows, closedUs, pieces }: { recipe: Recipe; grows: string | null; closedUs: Micros; pieces: number },
  transaction: Transaction,
): Promise<void> {
  const id = randomUUID();
  const { recordingId, number } = last;
  await db.models.Revision.create({ id, recordingId, number: number + 1, recipe, grows, closedUs }, { transaction });
  await db.rows(COPY_PIECES, [id, last.id, pieces], transaction);
}

async function lastRevision(db: Database, recordingId: string, transaction: Transaction): Promise<LastRevision> {
  const [row] = await db.rows<LastRevision>(LAST_REVISION, [recordingId], transaction);
  if (!row) throw new Error("every recording with a take has a revision");
  return row;
}

const onGrid = (micros: Micros): Micros => {
  const frames = Math.ceil((micros * PICTURE_RATE) / SECOND - 1e-6);
  return Math.ceil((frames * SECOND) / PICTURE_RATE);
};
