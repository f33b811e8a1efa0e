import type { Micros } from "#core/time/micros";

/** A moment on the one clock that the page and its workers share, in ms. */
export const sharedNow = () => performance.timeOrigin + performance.now();

/** Longer between two looks than any busy computer takes: it slept, or this process was stopped. ms */
const SLEPT_MS = 5_000;

/** Source time: 0 when recording starts, standing still in pauses. Moments are passed in, in shared ms. */
export class SourceClock {
  #startedAt: number | null = null;
  #pausedAt: number | null = null;
  #lost = 0;
  #lookedAt = 0;

  start(at: number): void {
    this.#startedAt = at;
    this.#lookedAt = at;
  }

  pause(at: number): void {
    this.#pausedAt ??= at;
  }

  resume(at: number): void {
    if (this.#pausedAt !== null) this.#lost += at - this.#pausedAt;
    this.#pausedAt = null;
    this.#lookedAt = at;
  }

  /**
   * For whoever looks all the time while it runs: where nobody did for long, nobody recorded, and it stood still.
   * @returns what was slept through, in shared ms
   */
  look(moment: number): { from: number; to: number } | null {
    if (!this.running) return null;
    const from = this.#lookedAt;
    this.#lookedAt = moment;
    if (moment - from <= SLEPT_MS) return null;
    this.skip(from, moment);
    return { from, to: moment };
  }

  /** Time in which nobody recorded, as when the computer slept: it stood still. */
  skip(from: number, to: number): void {
    this.#lost += to - from;
  }

  get running(): boolean {
    return this.#startedAt !== null && this.#pausedAt === null;
  }

  at(moment: number): Micros {
    if (this.#startedAt === null) return 0;
    return Math.max(0, Math.round(((this.#pausedAt ?? moment) - this.#startedAt - this.#lost) * 1000));
  }
}
