import type { Micros } from "./micros";

/** A half-open stretch of time `[from, to)`. Empty when `to <= from`. */
export interface Range {
  from: Micros;
  to: Micros;
}

/** A set of moments, as ranges in order that neither touch nor overlap and are not empty. */
export type RangeSet = readonly Range[];

/** Any ranges, in any order and overlapping, as a set. O(n log n). */
export function union(ranges: Iterable<Range>): RangeSet {
  const sorted = [...ranges].filter((r) => r.to > r.from).sort((a, b) => a.from - b.from);
  const out: Range[] = [];
  for (const { from, to } of sorted) {
    const last = out.at(-1);
    if (last && from <= last.to) last.to = Math.max(last.to, to);
    else out.push({ from, to });
  }
  return out;
}

/** The moments in both sets. O(n + m). */
export function intersect(a: RangeSet, b: RangeSet): RangeSet {
  const out: Range[] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const x = a[i]!;
    const y = b[j]!;
    const from = Math.max(x.from, y.from);
    const to = Math.min(x.to, y.to);
    if (to > from) out.push({ from, to });
    if (x.to < y.to) i++;
    else j++;
  }
  return out;
}

/** The moments in `a` that are not in `b`. O(n + m). */
export function subtract(a: RangeSet, b: RangeSet): RangeSet {
  const out: Range[] = [];
  let j = 0;
  for (const { from, to } of a) {
    let at = from;
    while (j < b.length && b[j]!.to <= from) j++;
    for (let k = j; k < b.length && b[k]!.from < to; k++) {
      const cut = b[k]!;
      if (cut.from > at) out.push({ from: at, to: cut.from });
      at = Math.max(at, cut.to);
    }
    if (at < to) out.push({ from: at, to });
  }
  return out;
}

/** How long a set is in all. */
export function measure(set: RangeSet): Micros {
  return set.reduce((sum, r) => sum + (r.to - r.from), 0);
}
