import { isMuted, type Gained } from "../recipe/dress";
import { holdingAt, type ShownDress } from "../recipe/as-shown";
import type { Micros } from "../time/micros";
import { factorOf } from "./gain";

/**
 * By what factor of amplitude a sound is played at a moment; 0 where it is silent.
 * @param track one that has no gain of its own is faded alone
 * @param gain of all of it, in dB
 * @param at on the line of the stretches
 * @param shown the same moment as shown, and how long that is: fades are at its ends
 */
export function soundAt(
  track: string,
  gain: number,
  { louder, fades }: Pick<ShownDress, "louder" | "fades">,
  at: Micros,
  shown: { at: Micros; length: Micros },
): number {
  const more = holdingAt(louder, at)?.by[track as Gained] ?? 0;
  if (isMuted(more)) return 0;
  const { in: comes = 0, out: goes = 0 } = fades;
  const fade = (passed: Micros, takes: Micros) => (takes > 0 ? Math.max(0, Math.min(1, passed / takes)) : 1);
  return factorOf(gain + more) * Math.min(fade(shown.at, comes), fade(shown.length - shown.at, goes));
}

/** Is there anything that changes while it plays? */
export const changesInPlay = ({ louder, fades }: Pick<ShownDress, "louder" | "fades">): boolean =>
  louder.length > 0 || Object.keys(fades).length > 0;
