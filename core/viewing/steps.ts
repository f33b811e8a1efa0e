/**
 * A whole number that changes at certain moments: `count[i]` holds from `at[i]` until `at[i + 1]`. Before the first it
 * is 0. `at` is in order, in ms.
 */
export interface Steps {
  at: Uint32Array;
  count: Int32Array;
}

export const NO_STEPS: Steps = { at: new Uint32Array(0), count: new Int32Array(0) };

/**
 * How many of the stretches `[from, to)` hold at each moment, in ms and in any order; empty ones are left out. Counted
 * by moment where there are more
 * stretches than moments, else sorted: O(n + length) or O(n log n), whichever is less.
 */
export function stepsOfStretches(from: Uint32Array, to: Uint32Array): Steps {
  let max = 0;
  let n = 0;
  for (let i = 0; i < to.length; i++) {
    if (to[i]! <= from[i]!) continue;
    n++;
    if (to[i]! > max) max = to[i]!;
  }
  if (max > 4 * n) {
    const kept = { from: new Uint32Array(n), to: new Uint32Array(n) };
    for (let i = 0, k = 0; i < to.length; i++) {
      if (to[i]! <= from[i]!) continue;
      kept.from[k] = from[i]!;
      kept.to[k++] = to[i]!;
    }
    return stepsOf(kept.from.sort(), kept.to.sort());
  }
  const change = new Int32Array(max + 1);
  for (let i = 0; i < to.length; i++) {
    if (to[i]! <= from[i]!) continue;
    change[from[i]!]!++;
    change[to[i]!]!--;
  }
  return stepsOfChanges(change);
}

/** How many of the stretches `[from, to)` hold at each moment. Both in ms and each in order by itself. O(n). */
function stepsOf(from: Uint32Array, to: Uint32Array): Steps {
  const at = new Uint32Array(from.length + to.length);
  const count = new Int32Array(from.length + to.length);
  let n = 0;
  let level = 0;
  for (let i = 0, j = 0; j < to.length;) {
    const moment = i < from.length && from[i]! < to[j]! ? from[i]! : to[j]!;
    const before = level;
    while (i < from.length && from[i] === moment) {
      level++;
      i++;
    }
    while (j < to.length && to[j] === moment) {
      level--;
      j++;
    }
    if (level === before) continue;
    at[n] = moment;
    count[n++] = level;
  }
  return { at: at.slice(0, n), count: count.slice(0, n) };
}

/** The same from how much the number changes at each ms. O(length). */
function stepsOfChanges(change: Int32Array): Steps {
  let n = 0;
  for (let ms = 0; ms < change.length; ms++) if (change[ms] !== 0) n++;
  const at = new Uint32Array(n);
  const count = new Int32Array(n);
  for (let ms = 0, i = 0, level = 0; ms < change.length; ms++) {
    if (change[ms] === 0) continue;
    level += change[ms]!;
    at[i] = ms;
    count[i++] = level;
  }
  return { at, count };
}

/** The sum of both at every moment. O(n + m). */
export function addSteps(a: Steps, b: Steps): Steps {
  if (a.at.length === 0) return b;
  if (b.at.length === 0) return a;
  const at = new Uint32Array(a.at.length + b.at.length);
  const count = new Int32Array(a.at.length + b.at.length);
  let n = 0;
  for (let i = 0, j = 0; i < a.at.length || j < b.at.length;) {
    const moment = Math.min(a.at[i] ?? Infinity, b.at[j] ?? Infinity);
    if (a.at[i] === moment) i++;
    if (b.at[j] === moment) j++;
    const level = (i > 0 ? a.count[i - 1]! : 0) + (j > 0 ? b.count[j - 1]! : 0);
    if (level === (n > 0 ? count[n - 1] : 0)) continue;
    at[n] = moment;
    count[n++] = level;
  }
  return { at: at.slice(0, n), count: count.slice(0, n) };
}

/** The value at each of `moments` (ms, in order). O(n + m). */
export function sampleSteps({ at, count }: Steps, moments: readonly number[]): number[] {
  let i = 0;
  return moments.map((moment) => {
    while (i < at.length && at[i]! <= moment) i++;
    return i > 0 ? count[i - 1]! : 0;
  });
}

/** The area under it between two moments: count × ms. O(n). */
export function areaOf({ at, count }: Steps, from: number, to: number): number {
  let sum = 0;
  for (let i = 0; i < at.length; i++) {
    const a = Math.max(from, at[i]!);
    const b = Math.min(to, at[i + 1] ?? to);
    if (b > a) sum += (b - a) * count[i]!;
  }
  return sum;
}
