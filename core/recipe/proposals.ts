import { SECOND, type Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { onGrid } from "./frames";

/** What the presenter said of a stretch while it was recorded. */
export type Said = "mistake" | "backed-up";

/** Why a stretch is proposed to be left out: what was said, that nobody speaks in it, or a slip of the tongue. */
export type Why = Said | "before" | "after" | "pause" | "filler" | "begun-again";

/** A stretch that could be left out, and why. */
export interface Proposed extends Range {
  why: Why;
}

/** How far around a mistake pauses are looked for. */
export const BEFORE_MISTAKE: Micros = 30 * SECOND;
export const AFTER_MISTAKE: Micros = 20 * SECOND;

/** So much quiet stays before what goes on, where there is as much: nobody notices a join between two sentences. */
const LEAD: Micros = 150_000;
/** Whoever sees that something went wrong has said it a moment ago: a pause that ends later is the one after it. */
const HAND: Micros = 300_000;
/** What is left out where nobody knows of pauses. */
const UNKNOWN: Micros = 3 * SECOND;

/**
 * The stretch that went wrong: from the last pause in speech before it to where speech goes on after it.
 * @param at when the presenter said so
 * @param pauses around it, in order
 * @param end where the take ends
 */
export function mistakeAt(at: Micros, pauses: readonly Range[], end: Micros): Range {
  const before = pauses.findLast((pause) => pause.to <= at - HAND);
  const after = pauses.find((pause) => pause.to > at - HAND);
  const from = before ? before.to - LEAD : Math.max(0, at - UNKNOWN);
  const to = after ? after.to - LEAD : at;
  return { from: onGrid(Math.max(0, from)), to: onGrid(Math.min(end, Math.max(to, from + LEAD))) };
}

/** Shorter than this nobody minds, and every cut costs an edge. */
const WORTH: Micros = 400_000;

/**
 * What nobody speaks in: before the first word, after the last one, and what is longer than it should be in between.
 * @param pauses of a take, in order
 * @param take all of it, in its own time
 * @param longer pauses that are longer than this
 * @param keep are shortened to this, half of it on each side
 * @returns in order; none where nobody knows of pauses
 */
export function quietIn(pauses: readonly Range[], take: Range, longer: Micros, keep: Micros): Proposed[] {
  const out: Proposed[] = [];
  for (const { from, to } of pauses) {
    const first = from <= take.from + LEAD;
    const last = to >= take.to - LEAD;
    // All of it is quiet: then there is nothing that it could be shortened to.
    if (first && last) return [];
    const stretch = first
      ? { why: "before" as const, from: take.from, to: to - LEAD }
      : last
        ? { why: "after" as const, from: from + LEAD, to: take.to }
        : { why: "pause" as const, from: from + keep / 2, to: to - keep / 2 };
    if (stretch.why === "pause" && to - from <= longer) continue;
    const onFrames = { why: stretch.why, from: onGrid(stretch.from), to: onGrid(stretch.to) };
    if (onFrames.to - onFrames.from >= WORTH) out.push(onFrames);
  }
  return out;
}

/** Where one can go on in these pauses: so much before speech goes on. In order. */
export const placesIn = (pauses: readonly Range[]): Micros[] =>
  pauses.map((pause) => onGrid(Math.max(pause.from, pause.to - LEAD)));

/** The place that is nearest to a moment, where one is as near as that; else the moment itself. */
export function nearestPlace(at: Micros, places: readonly Micros[], within: Micros): Micros {
  const nearest = places.reduce((best, place) => (Math.abs(place - at) < Math.abs(best - at) ? place : best), Infinity);
  return Math.abs(nearest - at) <= within ? nearest : at;
}
