import { toDecibels } from "./level";

/** What a listener says of a microphone. */
export interface Heard {
  /** false when not one sample differs from zero, or the system holds it back: no real microphone is that still */
  delivering: boolean;
  /** how long nothing louder than a quiet room was heard, ms */
  quietFor: number;
  /** it was at full scale again and again */
  clipping: boolean;
}

/** What is wrong with a sound while it is recorded. */
export type SoundAlarm = "dead" | "quiet" | "clipping";

/** Nobody heard for so long, and the screen went on: somebody shows something and is not heard. ms */
const UNHEARD = 6_000;

/**
 * What a presenter should be told at once.
 * @param stillFor how long nothing moved on the screen, ms; 0 where no screen is recorded
 */
export function alarmOf({ delivering, quietFor, clipping }: Heard, stillFor: number): SoundAlarm | null {
  if (!delivering) return "dead";
  if (clipping) return "clipping";
  return quietFor > UNHEARD && stillFor < UNHEARD ? "quiet" : null;
}

/** Below this it is a quiet room at the most. dBFS; common practice, no published source. */
const QUIET = -55;
/** So long without a single sample, and it is taken as not delivering: devices begin late, and some in bursts. ms */
const PATIENCE = 2_000;
/** As loud as can be told: what is louder is cut off. */
const FULL = 0.985;
/** So many looks at full scale, in so many ms: one may be a knock at the table. */
const CLIPS = 3;
const CLIPS_WITHIN = 4_000;

/** Listens for whether a microphone delivers anything, and how long nothing was said. Knows no clock of its own. */
export class Hearing {
  #sound: number | null = null;
  #voice: number | null = null;
  #clips: number[] = [];

  /**
   * @param amplitude the largest of the last samples, 1 is full scale
   * @param muted the system or the device holds the sound back
   * @param now ms
   */
  next(amplitude: number, muted: boolean, now: number): Heard {
    this.#sound ??= now;
    this.#voice ??= now;
    if (amplitude > 0 && !muted) this.#sound = now;
    if (toDecibels(amplitude) > QUIET && !muted) this.#voice = now;
    if (amplitude >= FULL && !muted) this.#clips.push(now);
    this.#clips = this.#clips.filter((at) => now - at < CLIPS_WITHIN);
    return {
      delivering: now - this.#sound < PATIENCE,
      quietFor: now - this.#voice,
      clipping: this.#clips.length >= CLIPS,
    };
  }
}
