import type { Micros } from "#core/time/micros";

/** Less than this from either end is not worth going back to. */
const EDGE: Micros = 4_000_000;
const key = (token: string) => `clear-nod-place:${token}`;

/** Where this browser was last in a recording; 0 when it is best to start from the beginning. */
export function lastPlace(token: string, duration: Micros, complete: boolean): Micros {
  const kept = Number(localStorage.getItem(key(token)) ?? 0);
  if (!Number.isSafeInteger(kept) || kept < EDGE) return 0;
  return complete && kept > duration - EDGE ? 0 : kept;
}

export function keepPlace(token: string, time: Micros): void {
  localStorage.setItem(key(token), String(time));
}
