import { toDecibels } from "./level";

/** What a listener says of a microphone. */
export interface Heard {
  /** false when not one sample differs from zero, or the system holds it back: no real microphone is that still */
  delivering: boolean;
  /** how long nothing louder than a quiet room was heard, ms */
  quietFor: number;
}

/** Below this it is a quiet room at the most. dBFS; common practice, no published source. */
const QUIET = -55;
/** So long without a single sample, and it is taken as not delivering: devices begin late, and some in bursts. ms */
const PATIENCE = 2_000;

/** Listens for whether a microphone delivers anything, and how long nothing was said. Knows no clock of its own. */
export class Hearing {
  #sound: number | null = null;
  #voice: number | null = null;

  /**
   * @param amplitude the largest of the last samples, 0 to 1
   * @param muted the system or the device holds the sound back
   * @param now ms
   */
  next(amplitude: number, muted: boolean, now: number): Heard {
    this.#sound ??= now;
    this.#voice ??= now;
    if (amplitude > 0 && !muted) this.#sound = now;
    if (toDecibels(amplitude) > QUIET && !muted) this.#voice = now;
    return { delivering: now - this.#sound < PATIENCE, quietFor: now - this.#voice };
  }
}
