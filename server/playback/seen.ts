import type { Size } from "#core/layout/layout";
import { type Mark, type ShownMark } from "#core/layout/mark";
import { firstScene, visibleIn, type Scene, type SceneEvent } from "#core/layout/scene";
import type { TrackName } from "#core/media/tracks";
import {
  arrangedScene,
  dressAsShown,
  marksAsShown,
  marksOn,
  rearranged,
  scenesAsShown,
  type ShownDress,
} from "#core/recipe/as-shown";
import { inOrder } from "#core/recipe/over";
import type { Recipe } from "#core/recipe/recipe";
import type { ShownLine } from "#core/recipe/shown-line";
import { startOfTake, takeOf } from "#core/recipe/source-line";
import type { Micros } from "#core/time/micros";
import type { RangeSet } from "#core/time/ranges";
import type { Database } from "../database/connection";
import { SEEN, TAKE_TRACKS } from "./sql";

/** A track of a take: where what is here of it ends, and whether more may come. */
export interface TakeTrack {
  position: number;
  name: TrackName;
  endUs: Micros;
  grows: boolean;
}

type SeenRow = { id: string; position: number; at: Micros } & (
  { kind: "scene"; body: Scene } | { kind: "mark"; body: Mark }
);

/** What is seen over and beside the pictures of a recording, in shown time. */
export interface Seen {
  taken: TakeTrack[];
  scenes: (frame: Size | null) => SceneEvent[];
  marks: ShownMark[];
  dress: ShownDress;
}

/** What was arranged and drawn in a recording, and what its recipe makes of it. */
export async function seenOf(db: Database, recordingId: string, recipe: Recipe, line: ShownLine): Promise<Seen> {
  const [rows, taken] = await Promise.all([
    db.rows<SeenRow>(SEEN, [recordingId]),
    db.rows<TakeTrack>(TAKE_TRACKS, [recordingId]),
  ]);
  const drawn = rows.flatMap((row) => (row.kind === "mark" ? [{ ...row, mark: row.body }] : []));
  return {
    taken,
    scenes: (frame) => scenesOf(rows, taken, recipe, line, frame),
    marks: [...marksAsShown(line, drawn), ...marksOn(line, recipe.marks)].sort((a, b) => a.from - b.from),
    dress: dressAsShown(line, recipe),
  };
}

function scenesOf(rows: SeenRow[], taken: TakeTrack[], recipe: Recipe, line: ShownLine, frame: Size | null) {
  const has = (take: number, name: TrackName) => taken.some((t) => t.position === take && t.name === name);
  const first = (take: number) =>
    firstScene(frame ?? ANY_FRAME, { screen: has(take, "screen"), camera: has(take, "camera") });
  const events = rows.flatMap((row): SceneEvent[] =>
    row.kind === "scene" ? [{ ...row.body, at: startOfTake(row.position) + row.at }] : [],
  );
  const over = inOrder(recipe.scenes).flatMap((stretch) => {
    const take = takeOf(stretch.from);
    // Where there is one picture, there is nothing to arrange.
    const both = has(take, "screen") && has(take, "camera");
    return both ? [{ ...stretch, scene: arrangedScene(frame, stretch.arranged) }] : [];
  });
  const begun = [...new Set(taken.map(({ position }) => position))].map((take) => ({
    at: startOfTake(take),
    ...first(take),
  }));
  const all = [...begun, ...events].sort((a, b) => a.at - b.at);
  return scenesAsShown(line, rearranged(all, over), first);
}

/** Where only what is seen counts, and not where. */
const ANY_FRAME: Size = { width: 16, height: 9 };

/**
 * When each of two pictures is seen of a recording, in shown time; what is never seen of them is withheld. Nothing for
 * a recording of one picture.
 */
export async function whenSeen(
  db: Database,
  recordingId: string,
  recipe: Recipe,
  line: ShownLine,
): Promise<ReadonlyMap<string, RangeSet>> {
  const { scenes } = await seenOf(db, recordingId, recipe, line);
  const all = scenes(ANY_FRAME);
  return new Map((["screen", "camera"] as const).map((name) => [name, visibleIn(all, name)]));
}
