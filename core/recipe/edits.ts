import type { Micros } from "../time/micros";
import { subtract, union, type Range } from "../time/ranges";
import { onGrid } from "./frames";
import type { Dress } from "./dress";
import type { Recipe } from "./recipe";
import { takeOf } from "./source-line";

/** The kept stretches of a recipe, all of them closed, in the order shown. */
export type Stretches = readonly Range[];

/** All of a take, as a stretch of the source line. */
export interface TakeStretch extends Range {
  /** it came from another recording */
  brought?: boolean;
}

/** What is shown of whole takes, and how: a recipe whose stretches are all closed. */
export interface Shown {
  kept: Range[];
  dress: Dress;
}

/** A recipe of closed stretches. */
export const recipeOf = (kept: Stretches, dress: Dress = {}): Recipe => ({
  version: 2,
  kept: kept.map(({ from, to }) => ({ from, to })),
  ...dress,
});

/** What a recipe says besides what is kept. */
export function dressOf({ version: _, kept: __, ...dress }: Recipe): Dress {
  return dress;
}

/** The stretches of a recipe, with an end for the open one, on the grid of pictures. */
export const closedAt = ({ kept }: Recipe, end: Micros): Range[] =>
  kept.map(({ from, to }) => ({ from: onGrid(from), to: onGrid(to ?? end) })).filter(({ from, to }) => to > from);

/** The takes that they are of, by their positions, in the order in which these come first. */
export const takesOf = (kept: readonly { from: Micros }[]): number[] => [
  ...new Set(kept.map(({ from }) => takeOf(from))),
];

/** How long they are, one after the other. */
export const lengthOf = (kept: Stretches): Micros => kept.reduce((sum, { from, to }) => sum + to - from, 0);

/** What is shown without a stretch of the source line. */
export function leftOut(kept: Stretches, cut: Range): Range[] {
  const [from, to] = [onGrid(cut.from), onGrid(cut.to)];
  return kept.flatMap((stretch) =>
    [
      { from: stretch.from, to: Math.min(stretch.to, from) },
      { from: Math.max(stretch.from, to), to: stretch.to },
    ].filter((part) => part.to > part.from),
  );
}

/**
 * What is shown with a stretch of the source line that was left out, as far as it was: where it was taken out. That is
 * after what comes before it in its take, or else before what comes after it, or else at the end.
 * @param stretch within one take
 */
export function putBack(kept: Stretches, stretch: Range): Range[] {
  let out = [...kept];
  for (const part of outOf(kept, [{ from: onGrid(stretch.from), to: onGrid(stretch.to) }])) {
    const ofTake = out.filter((k) => takeOf(k.from) === takeOf(part.from));
    const before = ofTake.filter((k) => k.to <= part.from).reduce<Range | null>(later, null);
    const after = ofTake.filter((k) => k.from >= part.to).reduce<Range | null>(earlier, null);
    const place = before ? out.indexOf(before) + 1 : after ? out.indexOf(after) : out.length;
    out = out.toSpliced(place, 0, part);
  }
  return joined(out);
}

/**
 * What is shown with other stretches put in, one after the other.
 * @param stretches of which nothing is shown
 * @param at the shown time at which they come; null for the end
 */
export function broughtIn(kept: Stretches, stretches: Stretches, at: Micros | null): Range[] {
  const put = stretches.map(({ from, to }) => ({ from: onGrid(from), to: onGrid(to) }));
  const place = at === null ? Infinity : onGrid(at);
  const [before, after]: [Range[], Range[]] = [[], []];
  let shown: Micros = 0;
  for (const { from, to } of kept) {
    const middle = Math.max(from, Math.min(to, from + place - shown));
    if (middle > from) before.push({ from, to: middle });
    if (to > middle) after.push({ from: middle, to });
    shown += to - from;
  }
  return [...before, ...put, ...after];
}

/** Stretches that go on one into the next are one. */
function joined(kept: Stretches): Range[] {
  const out: Range[] = [];
  for (const { from, to } of kept) {
    const last = out.at(-1);
    if (last && last.to === from && takeOf(last.from) === takeOf(from)) last.to = to;
    else out.push({ from, to });
  }
  return out;
}

const later = (a: Range | null, b: Range) => (a && a.to > b.to ? a : b);
const earlier = (a: Range | null, b: Range) => (a && a.from < b.from ? a : b);

/**
 * What is left out of takes, in the order of the source line.
 * @param takes all of each take, as stretches of the source line
 */
export const outOf = (kept: Stretches, takes: Stretches): Range[] => [...subtract(union(takes), union(kept))];

/**
 * The stretches of each take after those of another. Within a take they stay as they are.
 * @param takes their positions, in the order in which they are to be shown
 * @throws {RangeError} where these are not the takes that are shown, each once
 */
export function inOrderOf(kept: Stretches, takes: readonly number[]): Range[] {
  const shown = new Set(takesOf(kept));
  if (takes.length !== shown.size || takes.some((take) => !shown.has(take)) || new Set(takes).size !== takes.length)
    throw new RangeError("an order names each take that is shown once");
  return joined(takes.flatMap((take) => kept.filter(({ from }) => takeOf(from) === take)));
}
