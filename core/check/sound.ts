import { LoudnessMeter, TruePeak } from "../audio/loudness";

/** How a voice sounds, measured over the last ten seconds. */
export interface SoundFigures {
  /** the loudest three seconds (short-term, EBU Tech 3341): a voice while it speaks. LUFS, −∞ for silence */
  loudness: number;
  /** the quietest 0.4 seconds (momentary): the room while nobody speaks. LUFS, −∞ for silence */
  noise: number;
  /** the highest true peak (ITU-R BS.1770). dBTP, −∞ for silence */
  peak: number;
  /** how much of the ten seconds is there */
  seconds: number;
}

/** What is known of a tenth of a second, in the units of the figures. */
interface Tenth {
  momentary: number;
  shortTerm: number;
  peak: number;
}

const TENTHS = 100;

/** Measures one channel of sound as it comes, in blocks of any size, and tells of the last ten seconds. */
export class SoundCheck {
  readonly #meter: LoudnessMeter;
  readonly #peak = new TruePeak();
  readonly #step: number;
  /** of each tenth of a second, the newest last */
  #tenths: Tenth[] = [];
  #inStep = 0;

  /** @throws {RangeError} for a rate that no sound has */
  constructor(sampleRate: number) {
    this.#meter = new LoudnessMeter(sampleRate, 1);
    this.#step = Math.round(sampleRate / 10);
  }

  /** @param samples full scale at ±1 */
  push(samples: Float32Array): void {
    for (let at = 0; at < samples.length;) {
      const to = Math.min(samples.length, at + this.#step - this.#inStep);
      const block = samples.subarray(at, to);
      this.#meter.push([block]);
      this.#peak.push(block);
      this.#inStep += to - at;
      at = to;
      if (this.#inStep === this.#step) this.#endTenth();
    }
  }

  get figures(): SoundFigures {
    const of = (name: keyof Tenth) => this.#tenths.map((tenth) => tenth[name]);
    // The first windows are not full: what they say of the room would be silence.
    const room = of("momentary").filter((_, i) => i >= Math.min(3, this.#tenths.length - 1));
    return {
      loudness: Math.max(-Infinity, ...of("shortTerm")),
      noise: room.length > 0 ? Math.min(...room) : -Infinity,
      peak: Math.max(-Infinity, ...of("peak")),
      seconds: this.#tenths.length / 10,
    };
  }

  #endTenth(): void {
    this.#inStep = 0;
    this.#tenths.push({
      momentary: this.#meter.momentary,
      shortTerm: this.#meter.shortTerm,
      peak: this.#peak.dbtp,
    });
    this.#peak.begin();
    if (this.#tenths.length > TENTHS) this.#tenths.shift();
  }
}
