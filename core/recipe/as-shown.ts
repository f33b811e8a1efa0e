import { endOf, type Mark, type ShownMark } from "../layout/mark";
import { alone, sceneAt, sceneOf, type Scene, type SceneEvent } from "../layout/scene";
import type { Size } from "../layout/layout";
import type { Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import type { Arranged, Dress, Facets } from "./dress";
import { inOrder } from "./over";
import type { ShownLine } from "./shown-line";
import { startOfTake, takeOf } from "./source-line";

/** A line on which moments of the source line are: as shown, or as recorded. */
export interface Line {
  /** where a stretch of the source line is: nowhere, whole, or in parts */
  toShownRanges(stretch: Range): Range[];
}

/** What a recipe says of how it is shown, besides scenes and marks. Stretches are of the line that is played. */
export interface ShownDress {
  zooms: Facets["zooms"][];
  louder: Facets["louder"][];
  fades: NonNullable<Dress["fades"]>;
  views: NonNullable<Dress["views"]>;
  cards: NonNullable<Dress["cards"]>;
}

/** Nothing besides what is kept. */
export const UNDRESSED: ShownDress = { zooms: [], louder: [], fades: {}, views: {}, cards: {} };

export const dressAsShown = (line: Line, { zooms, louder, fades = {}, views = {}, cards = {} }: Dress): ShownDress => ({
  zooms: oversOn(line, zooms),
  louder: oversOn(line, louder),
  fades,
  views,
  cards,
});

/** What holds over stretches, where these are on a line, in order. */
export function oversOn<T extends Range>(line: Line, overs: Readonly<Record<string, T>> | undefined): T[] {
  return inOrder(overs)
    .flatMap((over) => line.toShownRanges(over).map(({ from, to }) => ({ ...over, from, to })))
    .sort((a, b) => a.from - b.from);
}

/** What holds of them at a moment. @param overs in order, none over another */
export const holdingAt = <T extends Range>(overs: readonly T[], at: Micros): T | undefined =>
  overs.find(({ from, to }) => from <= at && at < to);

/** What was drawn while editing, whole from its first moment to its last. */
export const marksOn = (line: Line, marks: Dress["marks"] = {}): ShownMark[] =>
  Object.entries(marks)
    .flatMap(([id, { from, to, mark }]) =>
      line.toShownRanges({ from, to }).map((range) => ({ id, began: range.from, ...range, mark })),
    )
    .sort((a, b) => a.from - b.from);

/**
 * Scenes with others for some stretches: after each stretch, what was there before goes on.
 * @param events in order; what a take begins with is one of them
 * @param over in order, none over another
 */
export function rearranged(events: readonly SceneEvent[], over: readonly (Range & { scene: Scene })[]): SceneEvent[] {
  if (over.length === 0) return [...events];
  const within = (at: Micros) => over.some(({ from, to }) => from <= at && at < to);
  const others = events.filter(({ at }) => !within(at));
  const put = over.flatMap(({ from, to, scene }, i): SceneEvent[] => {
    const begun = { ...scene, at: from };
    if (over[i + 1]?.from === to || events.some(({ at }) => at === to)) return [begun];
    const { layers } = sceneAt(events, to, { layers: [] });
    return [begun, { at: to, layers, fade: scene.fade }];
  });
  return [...others, ...put].sort((a, b) => a.at - b.at);
}

/** An arrangement as a scene. @param frame of the screen; null where there is none */
export const arrangedScene = (frame: Size | null, { shape, fade, ...arrangement }: Arranged): Scene => ({
  ...(frame ? sceneOf(frame, arrangement, shape) : alone("camera")),
  fade,
});

/**
 * Scenes of the source line as they are shown: each kept stretch begins with the scene that was in force there.
 * @param first what a take begins with, by its position
 */
export function scenesAsShown(
  line: ShownLine,
  events: readonly SceneEvent[],
  first: (take: number) => Scene,
): SceneEvent[] {
  let shown = 0;
  return line.kept.flatMap(({ from, to }) => {
    const begins = shown;
    shown += to - from;
    const ofTake = events.filter((e) => takeOf(e.at) === takeOf(from));
    const within = ofTake.filter((e) => e.at > from && e.at < to).map((e) => ({ ...e, at: e.at - from + begins }));
    return [{ at: begins, layers: sceneAt(ofTake, from, first(takeOf(from))).layers }, ...within];
  });
}

/**
 * Marks of the source line where they are shown; in a stretch that is left out, nowhere.
 * @param marks with their moments on the source line, `clearedAt` in the time of their take
 */
export function marksAsShown(
  line: ShownLine,
  marks: readonly { id: string; position: number; at: Micros; mark: Mark }[],
): ShownMark[] {
  return marks
    .flatMap(({ id, position, at, mark }) => {
      const start = startOfTake(position);
      const from = start + at;
      const to = Math.min(start + endOf(at, mark), startOfTake(position + 1));
      let passed = 0;
      return line.toShownRanges({ from, to }).map((range): ShownMark => {
        const shown = { id, began: range.from - passed, from: range.from, to: range.to, mark };
        passed += range.to - range.from;
        return shown;
      });
    })
    .sort((a, b) => a.from - b.from);
}
