import { frameAt, momentOf } from "../recipe/frames";
import { PICTURE_RATE } from "../media/tracks";
import { SECOND, type Micros } from "../time/micros";
import type { Range } from "../time/ranges";

/**
 * A stretch of a film, in pictures from its beginning: `[from, to)`. In one that does not move, nothing changes place.
 */
export interface Shot {
  from: number;
  to: number;
  moves: boolean;
}

/** So much is made at once: what is broken off loses no more. Pictures */
const MOST_PICTURES = 10 * PICTURE_RATE;

/** What rounding to microseconds takes, and no picture. */
const ROUNDED: Micros = 100;

/** The first picture that shows what is so from a moment on. */
const pictureFrom = (at: Micros) => Math.ceil(((at - ROUNDED) * PICTURE_RATE) / SECOND);

/** The moment at which it is asked what a picture shows: within what it stands for, whatever was rounded. */
export const momentIn = (picture: number): Micros => momentOf(picture) + ROUNDED;

/**
 * Cuts shown time into shots.
 * @param length of all, in shown time
 * @param moving when something changes place; an empty stretch, where it does at once
 * @param joins where one stretch ends and another begins: a shot lies within one
 */
export function shotsOf(length: Micros, moving: readonly Range[], joins: Iterable<Micros>): Shot[] {
  const end = frameAt(length);
  const moves = moving.map(({ from, to }) => ({ from: pictureFrom(from), to: pictureFrom(to) }));
  const ends = new Set([0, end, ...[...joins].map(pictureFrom), ...moves.flatMap(({ from, to }) => [from, to])]);
  const sorted = [...ends].filter((at) => at >= 0 && at <= end).sort((a, b) => a - b);
  const shots: Shot[] = [];
  for (const [i, to] of sorted.slice(1).entries()) {
    const isMoving = moves.some((move) => move.from <= sorted[i]! && sorted[i]! < move.to);
    for (let from = sorted[i]!; from < to; from += MOST_PICTURES)
      shots.push({ from, to: Math.min(to, from + MOST_PICTURES), moves: isMoving });
  }
  return shots;
}
