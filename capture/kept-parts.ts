import type { TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";

/** The parts of a take on their way to this computer's disk, and how far each track is there. */
export class KeptParts {
  #waiting = new Set<Promise<void>>();
  #ends = new Map<TrackKind, Micros>();

  /**
   * A part is being written.
   * @param end source time up to which its track is there then
   * @throws what the writing threw
   */
  async add(kind: TrackKind, end: Micros, written: Promise<void>): Promise<void> {
    this.#waiting.add(written);
    await written.finally(() => this.#waiting.delete(written));
    this.#ends.set(kind, end);
  }

  /** How many are being written. */
  get waiting(): number {
    return this.#waiting.size;
  }

  /** Of each track, the source time up to which it is on the disk. */
  get ends(): Partial<Record<TrackKind, Micros>> {
    return Object.fromEntries(this.#ends);
  }

  /** Source time up to which all tracks are there, but for those that were lost. */
  end(lost: readonly TrackKind[]): Micros {
    const live = [...this.#ends].filter(([kind]) => !lost.includes(kind));
    return live.length > 0 ? Math.min(...live.map(([, end]) => end)) : 0;
  }

  /** Settles when none is being written any more, whatever came of them. */
  async settled(): Promise<void> {
    await Promise.allSettled(this.#waiting);
  }
}
