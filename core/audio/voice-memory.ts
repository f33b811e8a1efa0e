import { SECOND, type Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { LevelLine, SPEECH_RATE } from "./pauses";

/** Enough to understand what was said, and as what tells speech from other sound wants it. */
export const MEMORY_RATE = SPEECH_RATE;
const RATE = 48_000;
const STEP = RATE / MEMORY_RATE;

/** A stretch of a voice from memory. */
export interface Remembered extends Range {
  /** mono, `MEMORY_RATE` a second, full scale at ±32,767 */
  samples: Int16Array<ArrayBuffer>;
  /** of the same stretch, as a `LevelLine` gives them */
  levels: Int8Array;
}

/** Remembers what was said last, in memory: a minute is 2 MB. */
export class VoiceMemory {
  /** a ring */
  #samples: Int16Array<ArrayBuffer>;
  #levels = new LevelLine(RATE);
  #written = 0;
  #sum = 0;
  #inStep = 0;

  /** @param seconds how much is remembered */
  constructor(seconds: number) {
    this.#samples = new Int16Array(seconds * MEMORY_RATE);
  }

  /** @param samples one channel, 48,000 a second, full scale at ±1 */
  push(samples: Float32Array): void {
    this.#levels.push(samples);
    for (const sample of samples) {
      this.#sum += sample;
      if (++this.#inStep < STEP) continue;
      const mean = Math.max(-1, Math.min(1, this.#sum / STEP));
      this.#samples[this.#written++ % this.#samples.length] = Math.round(mean * 32_767);
      this.#sum = this.#inStep = 0;
    }
  }

  /** What is remembered of a stretch: its last part, where that is long ago. */
  of({ from, to }: Range): Remembered {
    const index = (at: Micros) => Math.round((at / SECOND) * MEMORY_RATE);
    const last = Math.min(this.#written, Math.max(0, index(to)));
    const first = Math.min(last, Math.max(0, this.#written - this.#samples.length, index(from)));
    const moment = (at: number): Micros => Math.round((at * SECOND) / MEMORY_RATE);
    const stretch = { from: moment(first), to: moment(last) };
    const samples = new Int16Array(last - first);
    for (let i = 0; i < samples.length; i++) samples[i] = this.#samples[(first + i) % this.#samples.length]!;
    return { ...stretch, samples, levels: this.#levels.levels(stretch).slice() };
  }
}
