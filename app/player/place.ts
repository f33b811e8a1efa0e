import type { Micros } from "#core/time/micros";
import { kept } from "../kept";

/** Less than this from either end is not worth going back to. */
const EDGE: Micros = 4_000_000;
const key = (token: string) => `clear-nod-place:${token}`;

/** Where this browser was last in a recording; 0 when it is best to start from the beginning. */
export function lastPlace(token: string, duration: Micros, complete: boolean): Micros {
  const place = Number(kept.get(key(token)) ?? 0);
  if (!Number.isSafeInteger(place) || place < EDGE) return 0;
  return complete && place > duration - EDGE ? 0 : place;
}

export function keepPlace(token: string, time: Micros): void {
  kept.set(key(token), String(time));
}
