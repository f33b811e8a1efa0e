import type { Micros } from "../time/micros";
import { subtract, type Range, type RangeSet } from "../time/ranges";
import { pausesIn } from "./pauses";

/** The tunes that come with the application, and how long they are, in seconds; they are played over and over. */
export const TUNES = { panes: 48, dew: 48 } as const;
export type Tune = keyof typeof TUNES;

/** A quiet tune under what is said. */
export interface Music {
  tune: Tune;
  /** how loud it is where nobody speaks, against how loud it was made; and by how much lower under speech. dB */
  decibels: number;
  under: number;
}

export const MUSIC_LEVEL = { least: -30, most: 0 };
export const MUSIC_UNDER = { least: -30, most: 0 };
export const USUAL_MUSIC: Omit<Music, "tune"> = { decibels: -4, under: -12 };

/** It goes lower and comes back this slowly: a change is not heard as one. Seconds, for two thirds of the way */
export const MUSIC_SLOWLY = 0.25;

/** In a shorter pause it stays low: it would come and go with each breath. */
const LONG: Micros = 1_200_000;
/** It goes low so long before speech begins, and comes back so long after. */
const BEFORE: Micros = 300_000;

/**
 * Where somebody speaks in a take, by how loud it is, as one tune of music is to be low. All of it where nobody knows.
 * @param levels as a `LevelLine` gives them, of the voice; null where there is none: then nobody speaks
 * @param take on the source line
 */
export function speechIn(levels: Int8Array | null, take: Range): RangeSet {
  if (!levels) return [];
  const long = pausesIn(levels, take.from)
    .map(({ from, to }) => ({
      from: from <= take.from ? take.from : from + BEFORE,
      to: to >= take.to ? take.to : to - BEFORE,
    }))
    .filter(({ from, to }) => to - from >= LONG);
  return subtract([take], long);
}
