import { NO_END } from "../layout/scene";
import type { Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import type { ShownLine } from "./shown-line";
import { startOfTake, takeOf } from "./source-line";

/** What players bridge by themselves. */
export const BRIDGED: Micros = 500_000;

/**
 * Where a track has something, in shown time: takes may have different tracks, and one may be lost before it ends.
 * @param ends by the positions of takes that have the track, how long it is there; Infinity while it grows
 * @returns null where it is there from the beginning on, for as long as it lasts
 */
export function trackSpans({ kept }: ShownLine, ends: ReadonlyMap<number, Micros>): Range[] | null {
  const spans: Range[] = [];
  let shown = 0;
  for (const { from, to } of kept) {
    const take = takeOf(from);
    const end = Math.min(to, startOfTake(take) + (ends.get(take) ?? 0));
    if (end > from) {
      const span = { from: shown, to: Math.min(NO_END, shown + end - from) };
      const last = spans.at(-1);
      if (last && span.from - last.to <= BRIDGED) last.to = span.to;
      else spans.push(span);
    }
    shown += to - from;
  }
  return spans.length === 1 && spans[0]!.from <= BRIDGED ? null : spans;
}
