import { lastAt } from "../time/last-at";
import type { Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { outOf, recipeOf, type Stretches } from "./edits";
import { frameAt, momentOf } from "./frames";
import { ShownLine } from "./shown-line";

/** Where playing goes from a moment of recorded time. */
export interface Course {
  /** until then it goes on as it is; the moment itself where nothing of it is shown */
  until: Micros;
  /** and then it goes on there; null where that is the end */
  then: Micros | null;
}

/**
 * Recorded time: all takes one after the other, as an edit page has them, whatever of it is shown. Ends of takes lie on
 * the grid of pictures, and so does every frame of it.
 */
export class RecordedLine {
  readonly #line: ShownLine;

  /** @param takes all of each take, as stretches of the source line */
  constructor(private readonly takes: Stretches) {
    this.#line = new ShownLine(recipeOf(takes), 0);
  }

  get length(): Micros {
    return this.#line.length;
  }

  /** Where a moment of the source line is. */
  at(source: Micros): Micros {
    return this.#line.toShown(source).shown;
  }

  /** Where a stretch of one take is. */
  of({ from, to }: Range): Range {
    const begins = this.at(from);
    return { from: begins, to: begins + to - from };
  }

  /** Where a stretch of the source line is, as far as that was recorded. */
  toShownRanges(stretch: Range): Range[] {
    return this.#line.toShownRanges(stretch);
  }

  /** The stretches of takes that a stretch of recorded time covers. */
  toSource(range: Range): Range[] {
    return this.#line.toSourceRanges(range);
  }

  momentOf(recorded: Micros): Micros {
    return this.#line.toSource(recorded);
  }

  /** The frame that is nearest, and within the line. */
  onFrame(recorded: Micros): Micros {
    return momentOf(Math.max(0, Math.min(frameAt(this.length), frameAt(recorded))));
  }

  /** What is left out, in order. */
  cuts(kept: Stretches): Range[] {
    return outOf(kept, this.takes).map((cut) => this.of(cut));
  }
}

/** How kept stretches are played from recorded time, across what is left out, as they will be published. */
export class PlayOrder {
  /** in the order shown */
  readonly #parts: readonly Range[];
  /** their places in it, in the order of recorded time */
  readonly #sorted: readonly number[];
  readonly #shown: ShownLine;

  constructor(
    private readonly line: RecordedLine,
    kept: Stretches,
  ) {
    this.#parts = kept.map((stretch) => line.of(stretch));
    this.#sorted = [...this.#parts.keys()].sort((a, b) => this.#parts[a]!.from - this.#parts[b]!.from);
    this.#shown = new ShownLine(recipeOf(kept), 0);
  }

  /** How long it is. */
  get length(): Micros {
    return this.#shown.length;
  }

  /** O(log n) */
  from(recorded: Micros): Course {
    const n = lastAt(0, this.#sorted.length, (i) => this.#parts[this.#sorted[i]!]!.from <= recorded);
    const i = n < 0 ? undefined : this.#sorted[n]!;
    if (i !== undefined && recorded < this.#parts[i]!.to)
      return { until: this.#parts[i]!.to, then: this.#parts[i + 1]?.from ?? null };
    const { shown } = this.#shown.toShown(this.line.momentOf(recorded));
    return { until: recorded, then: shown < this.length ? this.line.at(this.#shown.toSource(shown)) : null };
  }

  /** When a moment will be shown; where it is left out, where it was taken out. */
  shownAt(recorded: Micros): Micros {
    return this.#shown.toShown(this.line.momentOf(recorded)).shown;
  }
}
