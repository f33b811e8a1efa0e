import { randomUUID } from "node:crypto";
import type { Transaction } from "sequelize";
import type { TrackName } from "#core/media/tracks";
import { closedAt, dressOf, type Shown } from "#core/recipe/edits";
import { gridAfter } from "#core/recipe/frames";
import { firstTake, parseRecipe, withTake, type Recipe } from "#core/recipe/recipe";
import { startOfTake } from "#core/recipe/source-line";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import type { NewEvent } from "../live/events";
import { Problem } from "../http/problem";
import { ADD_PIECES, COPY_PIECES, LAST_REVISION } from "./sql";

/** What pages are told when another revision is shown. */
export const PUBLISHED_EVENT: NewEvent = { kind: "revision", subject: null, senderOnly: false };

export interface LastRevision {
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

/** What a revision shows, closed: what is open ends with the take that it shows as it grows, as far as that is here. */
export function shownOf({ recipe, position, takeUs }: Pick<LastRevision, "recipe" | "position" | "takeUs">): Shown {
  const parsed = parseRecipe(recipe);
  return { kept: closedAt(parsed, startOfTake(position ?? 1) + gridAfter(takeUs)), dress: dressOf(parsed) };
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
  const takeUs = gridAfter(last.takeUs);
  const end = startOfTake(last.position ?? 1) + takeUs;
  const recipe = withTake(parseRecipe(last.recipe), end, position);
  const closedUs = last.closedUs + (last.grows ? Math.max(0, takeUs - last.growsFromUs) : 0);
  const stretches = recipe.kept.length - 1;
  await publish(db, last, { recipe, grows: takeId, closedUs, stretches }, transaction);
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
  const before = parseRecipe(last.recipe);
  const kept = before.kept.slice(0, -1);
  // Nothing came of the takes before.
  if (kept.length === 0) return "nothing-left";
  const recipe: Recipe = { ...before, kept };
  await publish(db, last, { recipe, grows: null, closedUs: last.closedUs, stretches: kept.length }, transaction);
  await db.models.Recording.update({ durationUs: last.closedUs }, { where: { id: recordingId }, transaction });
  return "published";
}

/** A piece of a revision; see the table of the same name. */
export interface NewPiece {
  track: TrackName;
  stretch: number;
  n: number;
  trackId: string;
  first: number;
  last: number;
  movedUs: Micros;
}

/** Stretches of takes that are whole, and what plays them. */
interface Edit {
  recipe: Recipe;
  lengthUs: Micros;
  pieces: readonly NewPiece[];
}

async function addRevision(
  db: Database,
  as: { recordingId: string; number: number },
  { recipe, lengthUs, pieces }: Edit,
  transaction: Transaction,
): Promise<void> {
  const id = randomUUID();
  await db.models.Revision.create({ id, ...as, recipe, grows: null, closedUs: lengthUs }, { transaction });
  const column = <K extends keyof NewPiece>(name: K) => pieces.map((piece) => piece[name]);
  const columns = (["track", "stretch", "n", "trackId", "first", "last", "movedUs"] as const).map(column);
  await db.rows(ADD_PIECES, [id, ...columns], transaction);
}

/** Publishes other stretches of takes that are whole, and forgets the poster, which may show what is left out. */
export async function publishEdit(
  db: Database,
  { recordingId, number }: LastRevision,
  edit: Edit,
  transaction: Transaction,
): Promise<void> {
  await addRevision(db, { recordingId, number: number + 1 }, edit, transaction);
  const where = { id: recordingId };
  await db.models.Recording.update({ durationUs: edit.lengthUs }, { where, transaction });
  // One that its owner has sent shows nothing of it.
  await db.models.Recording.update({ posterKey: null }, { where: { ...where, posterOwn: false }, transaction });
}

/** Keeps everything as it was recorded as revision 0, in the place of what that was before. It is not published. */
export async function publishRecorded(
  db: Database,
  recordingId: string,
  edit: Edit,
  transaction: Transaction,
): Promise<void> {
  await db.models.Revision.destroy({ where: { recordingId, number: 0 }, transaction });
  await addRevision(db, { recordingId, number: 0 }, edit, transaction);
}

/** Publishes a recipe after the last revision, with the pieces of as many of its stretches, closed as they are now. */
async function publish(
  db: Database,
  last: LastRevision,
  edit: { recipe: Recipe; grows: string | null; closedUs: Micros; stretches: number },
  transaction: Transaction,
): Promise<void> {
  const id = randomUUID();
  const { recordingId, number } = last;
  const { stretches, ...revision } = edit;
  await db.models.Revision.create({ id, recordingId, number: number + 1, ...revision }, { transaction });
  await db.rows(COPY_PIECES, [id, last.id, stretches], transaction);
}

/** What a recording shows. @throws {Problem} 404 where it is gone */
export async function lastRevision(
  db: Database,
  recordingId: string,
  transaction?: Transaction,
): Promise<LastRevision> {
  const [row] = await db.rows<LastRevision>(LAST_REVISION, [recordingId], transaction);
  if (!row) throw new Problem(404, "no-such-recording", "This recording is not there any more.");
  return row;
}
