import { SECOND, type Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { onGrid } from "./frames";

/** Why a stretch is proposed to be left out. */
export type Why = "mistake" | "backed-up";

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

/** Where one can go on in these pauses: so much before speech goes on. In order. */
export const placesIn = (pauses: readonly Range[]): Micros[] =>
  pauses.map((pause) => onGrid(Math.max(pause.from, pause.to - LEAD)));

/** The place that is nearest to a moment, where one is as near as that; else the moment itself. */
export function nearestPlace(at: Micros, places: readonly Micros[], within: Micros): Micros {
  const nearest = places.reduce((best, place) => (Math.abs(place - at) < Math.abs(best - at) ? place : best), Infinity);
  return Math.abs(nearest - at) <= within ? nearest : at;
}
