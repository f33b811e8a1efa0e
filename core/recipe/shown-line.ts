import { lastAt } from "../time/last-at";
import type { Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import type { Recipe } from "./recipe";

/** A moment of the source line where it is shown. */
export interface Place {
  shown: Micros;
  /** false in a stretch that is left out: then `shown` is where it was taken out */
  kept: boolean;
}

/**
 * What a recipe makes of the source line: the mapper between moments of takes and moments as they are shown.
 * Every moment has its image in both directions, and each look-up takes O(log n) of n kept stretches.
 */
export class ShownLine {
  /** the kept stretches with closed ends, in the order shown */
  readonly kept: readonly Range[];
  /** Are shown and source moments the same numbers, so that there is nothing to map? So it is while one take is all. */
  readonly isIdentity: boolean;
  /** where each of them begins in shown time; one more for the end */
  readonly #begins: Float64Array;
  /** the same stretches in the order of the source line, by their place in `kept` */
  readonly #bySource: Uint32Array;

  /** @param end how far the take of an open stretch has come, on the source line */
  constructor(
    readonly recipe: Recipe,
    end: Micros,
  ) {
    this.kept = recipe.kept.map(({ from, to }) => ({ from, to: to ?? Math.max(from, end) }));
    this.isIdentity = recipe.kept.length === 1 && recipe.kept[0]!.from === 0 && recipe.kept[0]!.to === null;
    this.#begins = new Float64Array(this.kept.length + 1);
    this.kept.forEach(({ from, to }, i) => (this.#begins[i + 1] = this.#begins[i]! + to - from));
    this.#bySource = Uint32Array.from(this.kept.keys()).sort((a, b) => this.kept[a]!.from - this.kept[b]!.from);
  }

  /** How long it is as shown. */
  get length(): Micros {
    return this.#begins[this.kept.length]!;
  }

  /** Where a moment of the source line is shown, or, if it is left out, where it was taken out. */
  toShown(source: Micros): Place {
    const n = lastAt(0, this.#bySource.length, (i) => this.kept[this.#bySource[i]!]!.from <= source);
    if (n < 0) return { shown: this.#begins[this.#bySource[0]!]!, kept: false };
    const i = this.#bySource[n]!;
    const { from, to } = this.kept[i]!;
    // The end of the last stretch is the end of all, which a comment on the last frame may name.
    const ends = source === to && i === this.kept.length - 1;
    return source < to || ends
      ? { shown: this.#begins[i]! + source - from, kept: true }
      : { shown: this.#begins[i + 1]!, kept: false };
  }

  /** The moment of the source line that is shown at a time. Before the beginning it is the first, after it the last. */
  toSource(shown: Micros): Micros {
    const at = Math.min(Math.max(0, shown), this.length);
    const i = Math.max(0, this.#stretchAt(at));
    return this.kept[i]!.from + at - this.#begins[i]!;
  }

  /** The stretches of the source line that are shown in a stretch of shown time, in the order shown. */
  toSourceRanges({ from, to }: Range): Range[] {
    const out: Range[] = [];
    const end = Math.min(to, this.length);
    for (let at = Math.max(0, from), i = this.#stretchAt(at); at < end; i++) {
      const until = Math.min(end, this.#begins[i + 1]!);
      const shift = this.kept[i]!.from - this.#begins[i]!;
      if (until > at) out.push({ from: at + shift, to: until + shift });
      at = until;
    }
    return out;
  }

  /** Where a stretch of the source line is shown: nowhere, whole, or in parts. */
  toShownRanges({ from, to }: Range): Range[] {
    const out: Range[] = [];
    let n = Math.max(
      0,
      lastAt(0, this.#bySource.length, (i) => this.kept[this.#bySource[i]!]!.from <= from),
    );
    for (; n < this.#bySource.length; n++) {
      const i = this.#bySource[n]!;
      const stretch = this.kept[i]!;
      if (stretch.from >= to) break;
      const shift = this.#begins[i]! - stretch.from;
      const part = { from: Math.max(from, stretch.from), to: Math.min(to, stretch.to) };
      if (part.to > part.from) out.push({ from: part.from + shift, to: part.to + shift });
    }
    return out.sort((a, b) => a.from - b.from);
  }

  /** The place in `kept` of the last stretch that begins at or before a shown time and is not empty after it. */
  #stretchAt(shown: Micros): number {
    return lastAt(0, this.kept.length, (i) => this.#begins[i]! <= shown);
  }
}
