/**
 * Loudness of a programme as people hear it: ITU-R BS.1770-4 (K-weighting, gating, true peak), with the windows of EBU
 * Tech 3341: momentary over 0.4 s, short-term over 3 s, integrated over all of it.
 */

/** A filter of two poles and two zeros, with `a0` = 1. */
export interface Biquad {
  b0: number;
  b1: number;
  b2: number;
  a1: number;
  a2: number;
}

/**
 * The two filters of the K-weighting for a sample rate. BS.1770-4 gives them for 48 kHz; these are the analogue filters
 * behind its tables, so that at 48 kHz the same numbers come out and at other rates the same ear listens.
 * Parameters: B. De Man, "Evaluation of implementations of the EBU R128 loudness measurement", 2018 (from memory).
 */
export function kWeighting(sampleRate: number): [shelf: Biquad, highPass: Biquad] {
  return [shelfOf(sampleRate), highPassOf(sampleRate)];
}

function shelfOf(sampleRate: number): Biquad {
  const k = Math.tan((Math.PI * 1681.974450955533) / sampleRate);
  const q = 0.7071752369554196;
  const high = 10 ** (3.999843853973347 / 20);
  const band = high ** 0.4996667741545416;
  const a0 = 1 + k / q + k * k;
  return {
    b0: (high + (band * k) / q + k * k) / a0,
    b1: (2 * (k * k - high)) / a0,
    b2: (high - (band * k) / q + k * k) / a0,
    a1: (2 * (k * k - 1)) / a0,
    a2: (1 - k / q + k * k) / a0,
  };
}

function highPassOf(sampleRate: number): Biquad {
  const k = Math.tan((Math.PI * 38.13547087602444) / sampleRate);
  const q = 0.5003270373238773;
  const a0 = 1 + k / q + k * k;
  return { b0: 1, b1: -2, b2: 1, a1: (2 * (k * k - 1)) / a0, a2: (1 - k / q + k * k) / a0 };
}

/** A mean square in LUFS; −∞ for silence. */
const toLufs = (meanSquare: number) => -0.691 + 10 * Math.log10(meanSquare);
const fromLufs = (lufs: number) => 10 ** ((lufs + 0.691) / 10);

/** Windows move by a tenth of a second: a quarter of the momentary one. */
const STEPS_A_SECOND = 10;
const MOMENTARY_STEPS = 4;
const SHORT_TERM_STEPS = 30;
const ABSOLUTE_GATE = fromLufs(-70);
/** Below the mean of what passes the absolute gate, in LU. */
const RELATIVE_GATE = -10;

/** Both filters of one channel, and what they remember. */
class Ear {
  readonly #filters: [Biquad, Biquad];
  /** of each filter: the last two inputs and the last two outputs */
  readonly #state = new Float64Array(8);

  constructor(sampleRate: number) {
    this.#filters = kWeighting(sampleRate);
  }

  /** The sum of the squares of samples `from` to `to` as they are heard. */
  energy(samples: Float32Array, from: number, to: number): number {
    const [f, g] = this.#filters;
    let [x1, x2, y1, y2, z1, z2] = this.#state as unknown as number[] as [
      number,
      number,
      number,
      number,
      number,
      number,
    ];
    let sum = 0;
    for (let i = from; i < to; i++) {
      const x = samples[i]!;
      const y = f.b0 * x + f.b1 * x1 + f.b2 * x2 - f.a1 * y1 - f.a2 * y2;
      const z = g.b0 * y + g.b1 * y1 + g.b2 * y2 - g.a1 * z1 - g.a2 * z2;
      x2 = x1;
      x1 = x;
      y2 = y1;
      y1 = y;
      z2 = z1;
      z1 = z;
      sum += z * z;
    }
    this.#state.set([x1, x2, y1, y2, z1, z2]);
    return sum;
  }
}

/**
 * Measures sound as it comes, in blocks of any size. All loudness is in LUFS, −∞ where nothing was heard; channels
 * count alike (left, right and centre do). Memory: 8 bytes a tenth of a second.
 */
export class LoudnessMeter {
  readonly #ears: Ear[];
  readonly #step: number;
  /** mean squares of the last tenths of a second, the newest last */
  #tenths: number[] = [];
  /** mean squares of all momentary windows */
  #windows = new Float64Array(256);
  #count = 0;
  #sum = 0;
  #inStep = 0;

  /** @throws {RangeError} for a rate or number of channels that no sound has */
  constructor(sampleRate: number, channels: number) {
    if (!(sampleRate >= 8_000 && sampleRate <= 384_000)) throw new RangeError(`${sampleRate} Hz is no rate of sound`);
    if (!(channels === 1 || channels === 2)) throw new RangeError("one channel or two are measured");
    this.#ears = Array.from({ length: channels }, () => new Ear(sampleRate));
    this.#step = Math.round(sampleRate / STEPS_A_SECOND);
  }

  /** @param channels a block: the samples of each channel, equally many, full scale at ±1 */
  push(channels: readonly Float32Array[]): void {
    const length = channels[0]!.length;
    for (let at = 0; at < length;) {
      const to = Math.min(length, at + this.#step - this.#inStep);
      for (const [i, ear] of this.#ears.entries()) this.#sum += ear.energy(channels[i]!, at, to);
      this.#inStep += to - at;
      at = to;
      if (this.#inStep === this.#step) this.#endStep();
    }
  }

  /** Over the last 0.4 s. */
  get momentary(): number {
    return toLufs(this.#mean(MOMENTARY_STEPS));
  }

  /** Over the last 3 s. */
  get shortTerm(): number {
    return toLufs(this.#mean(SHORT_TERM_STEPS));
  }

  /** Over everything that is not silence: windows above −70 LUFS, and not more than 10 LU below the mean of those. */
  get integrated(): number {
    const loud = this.#meanAbove(ABSOLUTE_GATE);
    return toLufs(this.#meanAbove(Math.max(ABSOLUTE_GATE, fromLufs(toLufs(loud) + RELATIVE_GATE))));
  }

  #endStep(): void {
    this.#tenths.push(this.#sum / this.#step);
    this.#sum = 0;
    this.#inStep = 0;
    if (this.#tenths.length > SHORT_TERM_STEPS) this.#tenths.shift();
    if (this.#tenths.length < MOMENTARY_STEPS) return;
    if (this.#count === this.#windows.length) {
      const wider = new Float64Array(2 * this.#count);
      wider.set(this.#windows);
      this.#windows = wider;
    }
    this.#windows[this.#count++] = this.#mean(MOMENTARY_STEPS);
  }

  #mean(steps: number): number {
    const some = this.#tenths.slice(-steps);
    return some.length < steps ? 0 : some.reduce((sum, value) => sum + value, 0) / steps;
  }

  #meanAbove(gate: number): number {
    let sum = 0;
    let count = 0;
    for (let i = 0; i < this.#count; i++) {
      if (this.#windows[i]! <= gate) continue;
      sum += this.#windows[i]!;
      count++;
    }
    return count > 0 ? sum / count : 0;
  }
}

/** Four times as many samples, by the filter of BS.1770-4, annex 2 (from memory; checked against ffmpeg). */
const PHASES = [
  [
    0.001708984375, 0.010986328125, -0.0196533203125, 0.033203125, -0.0594482421875, 0.1373291015625, 0.97216796875,
    -0.102294921875, 0.047607421875, -0.026611328125, 0.014892578125, -0.00830078125,
  ],
  [
    -0.0291748046875, 0.029296875, -0.0517578125, 0.089111328125, -0.16650390625, 0.465087890625, 0.77978515625,
    -0.2003173828125, 0.1015625, -0.0582275390625, 0.0330810546875, -0.0189208984375,
  ],
];
const TAPS = [...PHASES, ...PHASES.toReversed().map((phase) => phase.toReversed())].map((p) => Float64Array.from(p));

/** By so much at the most something between samples is higher than they are. */
const REACH = Math.max(...TAPS.map((taps) => taps.reduce((sum, tap) => sum + Math.abs(tap), 0)));
/** Samples that are looked at together. */
const LOOKED_AT = 256;

/** The highest peak of one channel between its samples as well as at them. */
export class TruePeak {
  readonly #last = new Float64Array(12);
  #peak = 0;

  push(samples: Float32Array): void {
    for (let from = 0; from < samples.length; from += LOOKED_AT) {
      const some = samples.subarray(from, from + LOOKED_AT);
      // Most of a programme is far below its highest peak: what cannot reach it is not looked at between its samples.
      if (this.#mostNear(some) * REACH > this.#peak) for (const sample of some) this.#look(sample);
      else this.#remember(some);
    }
  }

  #look(sample: number): void {
    const last = this.#last;
    last.copyWithin(1, 0, 11);
    last[0] = sample;
    for (const taps of TAPS) {
      let sum = 0;
      for (let k = 0; k < 12; k++) sum += taps[k]! * last[k]!;
      this.#peak = Math.max(this.#peak, Math.abs(sum));
    }
  }

  /** The highest sample of some, and of those before that are interpolated with them. */
  #mostNear(samples: Float32Array): number {
    let most = 0;
    for (const sample of this.#last) most = Math.max(most, Math.abs(sample));
    for (let i = 0; i < samples.length; i++) {
      const high = Math.abs(samples[i]!);
      if (high > most) most = high;
    }
    return most;
  }

  #remember(samples: Float32Array): void {
    const count = Math.min(12, samples.length);
    this.#last.copyWithin(count, 0, 12 - count);
    for (let k = 0; k < count; k++) this.#last[k] = samples[samples.length - 1 - k]!;
  }

  /** In dBTP; −∞ for silence. */
  get dbtp(): number {
    return 20 * Math.log10(this.#peak);
  }

  /** What was measured so far is forgotten; the samples that the next ones follow are not. */
  begin(): void {
    this.#peak = 0;
  }
}

/**
 * How loud a recording of one channel is: integrated loudness and highest true peak.
 * @param samples full scale at ±1
 * @throws {RangeError} for a rate that no sound has
 */
export function measureVoice(samples: Float32Array, sampleRate: number): { loudness: number; peak: number } {
  const meter = new LoudnessMeter(sampleRate, 1);
  const peak = new TruePeak();
  meter.push([samples]);
  peak.push(samples);
  return { loudness: meter.integrated, peak: peak.dbtp };
}
