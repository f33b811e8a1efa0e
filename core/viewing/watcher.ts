import type { Micros } from "../time/micros";

/** One look at a player. */
export interface Sample {
  time: Micros;
  /** it plays, and is neither waiting nor ended */
  playing: boolean;
  rate: number;
  /** the page is hidden and the sound is off: nobody can be watching */
  unseen: boolean;
}

/** A stretch that was really played, at one speed. */
export interface Span {
  from: Micros;
  to: Micros;
  rate: number;
}

/**
 * Longer than any step between two looks at normal play, also when a hidden page is looked at once a second at 2.5×.
 */
const LONGEST_STEP: Micros = 3_500_000;
/** Shorter than this is the trace of a press on Pause, not watching. */
const SHORTEST: Micros = 50_000;

/**
 * Turns looks at a player into spans: a span ends with a pause, a seek, a change of speed, or nobody looking. Pure: the
 * caller looks, and
 * says so.
 */
export class Watcher {
  #open: Span | null = null;
  #closed: Span[] = [];

  look({ time, playing, rate, unseen }: Sample): void {
    const open = this.#open;
    const counts = playing && !unseen;
    if (open) {
      const step = time - open.to;
      const goesOn = step >= 0 && step <= LONGEST_STEP;
      // The last look was at play: what lies between was played, also when this look finds it paused.
      if (goesOn) open.to = time;
      if (goesOn && counts && rate === open.rate) return;
      this.#close();
    }
    if (counts) this.#open = { from: time, to: time, rate };
  }

  /** A seek is no playing: what is open ends where it was last seen. */
  sought(): void {
    this.#close();
  }

  /** The spans so far; the open one goes on in the next batch. */
  take(): Span[] {
    const open = this.#open;
    if (open && open.to - open.from >= SHORTEST) {
      this.#close();
      this.#open = { ...open, from: open.to };
    }
    return this.#closed.splice(0);
  }

  #close(): void {
    if (this.#open && this.#open.to - this.#open.from >= SHORTEST) this.#closed.push({ ...this.#open });
    this.#open = null;
  }
}
