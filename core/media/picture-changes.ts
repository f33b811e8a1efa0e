import type { Micros } from "../time/micros";

/** A picture that is another one than the picture before it. */
export interface PictureChange {
  at: Micros;
  /** of its area, from 0 to 1 */
  share: number;
}

/** Pictures are compared so small: text that scrolls is grey there, and a pointer is next to nothing. */
export const SMALL = { width: 64, height: 36 };
/** Grey levels, of 256, from which on a place counts as another one. */
const ANOTHER = 24;
/** Less of it than this is nothing to tell of. */
const LEAST = 0.1;
const MOST = 400;

/**
 * Where a picture becomes another one.
 * @param pictures one after the other, a byte of grey for each place of `SMALL`, row by row
 * @param at when each of them is
 * @returns the greatest changes, in the order of time
 */
export function pictureChanges(pictures: Uint8Array, at: readonly Micros[]): PictureChange[] {
  const size = SMALL.width * SMALL.height;
  const changes: PictureChange[] = [];
  for (let n = 1; n < at.length; n++) {
    let others = 0;
    for (let i = n * size; i < (n + 1) * size; i++)
      if (Math.abs(pictures[i]! - pictures[i - size]!) >= ANOTHER) others++;
    const share = Math.round((100 * others) / size) / 100;
    if (share >= LEAST) changes.push({ at: at[n]!, share });
  }
  const greatest = [...changes].sort((a, b) => b.share - a.share).slice(0, MOST);
  return greatest.sort((a, b) => a.at - b.at);
}
