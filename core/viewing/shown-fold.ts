import type { ShownLine } from "../recipe/shown-line";
import { lastAt } from "../time/last-at";
import type { Folded } from "./fold";
import type { Steps } from "./steps";

const MS = 1000;

/** A kept stretch in ms: where it lies on the source line, and where it is shown. */
interface Stretch {
  from: number;
  to: number;
  shown: number;
}

/**
 * What was watched of the source line, as it lies in shown time: who has seen a stretch has seen it, whichever revision
 * they watched; what is left out counts nowhere.
 */
export function foldAsShown(folded: Folded, line: ShownLine): Folded {
  if (line.isIdentity) return folded;
  let shown = 0;
  const stretches = line.kept.map(({ from, to }): Stretch => {
    const stretch = { from: Math.round(from / MS), to: Math.round(to / MS), shown };
    shown += stretch.to - stretch.from;
    return stretch;
  });
  return { viewers: folded.viewers, ...seenAsShown(folded, stretches), plays: stepsAsShown(folded.plays, stretches) };
}

function seenAsShown(folded: Folded, stretches: readonly Stretch[]): Pick<Folded, "first" | "from" | "to"> {
  const first = new Uint32Array(folded.viewers + 1);
  const from: number[] = [];
  const to: number[] = [];
  for (let v = 0; v < folded.viewers; v++) {
    first[v] = from.length;
    for (const s of stretches) {
      for (let i = firstAfter(folded, v, s.from); i < folded.first[v + 1]! && folded.from[i]! < s.to; i++) {
        const a = Math.max(folded.from[i]!, s.from) - s.from + s.shown;
        const b = Math.min(folded.to[i]!, s.to) - s.from + s.shown;
        // What goes on over a join is one stretch.
        if (from.length > first[v]! && to.at(-1) === a) to[to.length - 1] = b;
        else {
          from.push(a);
          to.push(b);
        }
      }
    }
  }
  first[folded.viewers] = from.length;
  return { first, from: Uint32Array.from(from), to: Uint32Array.from(to) };
}

/** The first row of viewer `v` that ends after a moment. */
const firstAfter = ({ first, to }: Folded, v: number, moment: number): number =>
  lastAt(first[v]!, first[v + 1]!, (i) => to[i]! <= moment) + 1;

function stepsAsShown({ at, count }: Steps, stretches: readonly Stretch[]): Steps {
  const moments: number[] = [];
  const levels: number[] = [];
  const step = (moment: number, level: number) => {
    // Of two changes at a join the later one holds.
    if (moments.at(-1) === moment) levels[levels.length - 1] = level;
    else if (level !== (levels.at(-1) ?? 0)) {
      moments.push(moment);
      levels.push(level);
    }
  };
  for (const s of stretches) {
    let i = lastAt(0, at.length, (k) => at[k]! <= s.from) + 1;
    step(s.shown, i > 0 ? count[i - 1]! : 0);
    for (; i < at.length && at[i]! < s.to; i++) step(at[i]! - s.from + s.shown, count[i]!);
    step(s.to - s.from + s.shown, 0);
  }
  return { at: Uint32Array.from(moments), count: Int32Array.from(levels) };
}
