import type { Micros } from "#core/time/micros";

/** A moment on the one clock that the page and its workers share, in ms. */
export const sharedNow = () => performance.timeOrigin + performance.now();

/** Source time: 0 when recording starts, standing still in pauses. Moments are passed in, in shared ms. */
export class SourceClock {
  #startedAt: number | null = null;
  #pausedAt: number | null = null;
  #lost = 0;

  start(at: number): void {
    this.#startedAt = at;
  }

  pause(at: number): void {
    this.#pausedAt ??= at;
  }

  resume(at: number): void {
    if (this.#pausedAt !== null) this.#lost += at - this.#pausedAt;
    this.#pausedAt = null;
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
