import { SECOND, type Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { FLOOR, toDecibels } from "./level";

/** Levels are kept for each fiftieth of a second. */
export const LEVELS_A_SECOND = 50;

/** How loud a voice is along its length: one level for each fiftieth of a second, in whole dBFS. An hour is 180 kB. */
export class LevelLine {
  #levels = new Int8Array(LEVELS_A_SECOND * 60);
  #count = 0;
  #sum = 0;
  #samples = 0;
  readonly #step: number;

  constructor(sampleRate: number) {
    this.#step = sampleRate / LEVELS_A_SECOND;
  }

  /** @param samples full scale at ±1 */
  push(samples: Float32Array): void {
    for (const sample of samples) {
      this.#sum += sample * sample;
      if (++this.#samples < this.#step) continue;
      if (this.#count === this.#levels.length) {
        const longer = new Int8Array(2 * this.#count);
        longer.set(this.#levels);
        this.#levels = longer;
      }
      this.#levels[this.#count++] = Math.round(toDecibels(Math.sqrt(this.#sum / this.#samples)));
      this.#sum = this.#samples = 0;
    }
  }

  /** The levels of a stretch, as far as they are there. */
  levels({ from, to }: Range): Int8Array {
    return this.#levels.subarray(Math.min(this.#count, indexOf(from)), Math.min(this.#count, indexOf(to)));
  }
}

const indexOf = (at: Micros) => Math.max(0, Math.round((at / SECOND) * LEVELS_A_SECOND));
const momentOf = (index: number): Micros => Math.round((index * SECOND) / LEVELS_A_SECOND);

/** What tells speech from other sound looks at frames of so many samples, at so many a second. */
export const SPEECH_FRAME = 512;
export const SPEECH_RATE = 16_000;
/** Likely enough to be speech, and so unlikely that it has ended (the model's authors use 0.5 and 0.35). */
const SPEAKS = 0.5;
const SILENT = 0.35;

/**
 * The pauses between what is likely to be speech; none where nobody speaks.
 * @param speech of each frame, how likely it is
 * @param from where the first frame begins
 */
export function pausesBetween(speech: Float32Array, from: Micros): Range[] {
  const beginOf = (frame: number): Micros => from + Math.round((frame * SPEECH_FRAME * SECOND) / SPEECH_RATE);
  const pauses: Range[] = [];
  if (!speech.some((likely) => likely > SPEAKS)) return pauses;
  let since: number | null = 0;
  for (let n = 0; n <= speech.length; n++) {
    const likely = speech[n] ?? 1;
    if (since === null && likely < SILENT) since = n;
    else if (since !== null && likely > SPEAKS) {
      pauses.push({ from: beginOf(since), to: beginOf(n) });
      since = null;
    }
  }
  return pauses.filter((pause) => pause.to - pause.from >= SHORTEST);
}

/** What is quieter than the room by less than this is the room. dB */
const ABOVE_ROOM = 8;
/** A voice that stands out by less than this is not told from the room. dB */
const STANDS_OUT = 14;
/** A breath within a sentence is shorter than this: most pauses in fluent speech are (common practice, from memory). */
const SHORTEST: Micros = 250_000;
/** A click or a breath in a pause does not end it. */
const CLICK: Micros = 60_000;

/**
 * The pauses in speech, by how loud it is: what lies near the level of the room, which is learnt from the quietest
 * twentieth. None where no voice stands out from the room: then nobody knows.
 * @param levels as a `LevelLine` gives them
 * @param from where they begin
 */
export function pausesIn(levels: Int8Array, from: Micros): Range[] {
  if (levels.length === 0) return [];
  const sorted = levels.toSorted();
  const share = (part: number) => sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * part))]!;
  const [room, voice] = [Math.max(FLOOR, share(0.05)), share(0.9)];
  if (voice - room < STANDS_OUT) return [];
  const limit = room + Math.max(ABOVE_ROOM, (voice - room) * 0.3);
  const pauses: Range[] = [];
  for (let i = 0; i < levels.length; i++) {
    if (levels[i]! > limit) continue;
    const begins = i;
    while (i < levels.length && levels[i]! <= limit) i++;
    const last = pauses.at(-1);
    const pause = { from: from + momentOf(begins), to: from + momentOf(i) };
    if (last && pause.from - last.to <= CLICK) last.to = pause.to;
    else pauses.push(pause);
  }
  return pauses.filter((pause) => pause.to - pause.from >= SHORTEST);
}
