import { GAIN } from "../audio/gain";
import { RecipeError } from "./recipe-error";

/** The sounds of a recording that have a gain of their own. */
export const GAINED = ["microphone", "sound"] as const;
export type Gained = (typeof GAINED)[number];

/** By how many dB each sound is shown louder than it was recorded. One that stays as it is, is not named. */
export type Gains = Readonly<Partial<Record<Gained, number>>>;

/** A gain as it is kept: in tenths of a dB, within what makes sense. */
const tidy = (decibels: number): number => Math.round(10 * Math.max(GAIN.least, Math.min(GAIN.most, decibels))) / 10;

/** These gains with another one for a sound. */
export function withGain(gains: Gains, track: Gained, decibels: number): Gains {
  const gain = tidy(decibels);
  const others = Object.entries(gains).filter(([name]) => name !== track);
  return Object.fromEntries(gain === 0 ? others : [...others, [track, gain]]);
}

export const sameGains = (a: Gains, b: Gains): boolean => GAINED.every((track) => (a[track] ?? 0) === (b[track] ?? 0));

/** Reads gains from JSON; none where there is nothing. @throws {RecipeError} naming the place */
export function parseGains(value: unknown, path: string): Gains {
  if (value === undefined) return {};
  if (typeof value !== "object" || value === null || Array.isArray(value))
    throw new RecipeError(path, "gains are an object");
  let gains: Gains = {};
  for (const [track, gain] of Object.entries(value)) {
    if (!isGained(track)) throw new RecipeError(`${path}/${track}`, "has no gain");
    if (typeof gain !== "number" || !(gain >= GAIN.least && gain <= GAIN.most))
      throw new RecipeError(`${path}/${track}`, `from ${GAIN.least} to ${GAIN.most} dB are taken`);
    gains = withGain(gains, track, gain);
  }
  return gains;
}

const isGained = (name: string): name is Gained => (GAINED as readonly string[]).includes(name);
