import { spawnSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { describe, expect, it } from "vitest";
import { kWeighting, LoudnessMeter, TruePeak } from "./loudness";

const RATE = 48_000;

/** A sine of 1 kHz at levels (dBFS of its peaks) for so many seconds each. */
function tone(...parts: [dbfs: number, seconds: number][]): Float32Array {
  const out = new Float32Array(parts.reduce((sum, [, s]) => sum + Math.round(s * RATE), 0));
  let at = 0;
  for (const [dbfs, seconds] of parts) {
    const end = at + Math.round(seconds * RATE);
    for (; at < end; at++) out[at] = 10 ** (dbfs / 20) * Math.sin((2 * Math.PI * 1000 * at) / RATE);
  }
  return out;
}

function measured(channels: Float32Array[], block = 1024): LoudnessMeter {
  const meter = new LoudnessMeter(RATE, channels.length);
  for (let at = 0; at < channels[0]!.length; at += block) meter.push(channels.map((c) => c.subarray(at, at + block)));
  return meter;
}

/** Outside check: what ffmpeg's `ebur128` says. */
function byFfmpeg(channels: Float32Array[]): { integrated: number; truePeak: number } {
  const length = channels[0]!.length;
  const samples = Float32Array.from({ length: length * channels.length }, (_, i) => {
    return channels[i % channels.length]![Math.floor(i / channels.length)]!;
  });
  const file = join(mkdtempSync(join(tmpdir(), "loudness-")), "sound.f32");
  writeFileSync(file, Buffer.from(samples.buffer));
  const sound = ["-f", "f32le", "-ar", String(RATE), "-ac", String(channels.length), "-i", file];
  const args = ["-hide_banner", "-nostats", ...sound, "-af", "ebur128=peak=true", "-f", "null", "-"];
  const { stderr } = spawnSync("ffmpeg", args, { encoding: "utf8" });
  const summary = stderr.slice(stderr.lastIndexOf("Summary:"));
  const of = (name: RegExp) => Number(name.exec(summary)![1]);
  return { integrated: of(/I:\s+(-?[\d.]+) LUFS/), truePeak: of(/Peak:\s+(-?[\d.]+) dBFS/) };
}

/** Noise that comes and goes like speech, from a fixed seed. */
function babble(seconds: number, seed: number): Float32Array {
  let state = seed;
  const next = () => (state = (state * 1_103_515_245 + 12_345) % 2 ** 31) / 2 ** 31;
  let low = 0;
  return Float32Array.from({ length: seconds * RATE }, (_, i) => {
    low += 0.15 * (2 * next() - 1 - low);
    const word = Math.max(0, Math.sin((2 * Math.PI * i) / (0.7 * RATE)));
    return 0.9 * low * word * (Math.floor(i / (4 * RATE)) % 3 === 2 ? 0.002 : 1);
  });
}

describe("loudness", () => {
  it("weighs as the tables of BS.1770-4 do at 48 kHz (tables 1 and 2, from memory)", () => {
    const [shelf, highPass] = kWeighting(RATE);
    const table = [1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585];
    [shelf.b0, shelf.b1, shelf.b2, shelf.a1, shelf.a2].forEach((value, i) => expect(value).toBeCloseTo(table[i]!, 10));
    expect(highPass.a1).toBeCloseTo(-1.99004745483398, 10);
    expect(highPass.a2).toBeCloseTo(0.99007225036621, 10);
  });

  // EBU Tech 3341, table 1, from memory: what each must come to, to 0.1 LU.
  it.each<[string, [number, number][], number]>([
    ["1", [[-23, 20]], -23],
    ["2", [[-33, 20]], -33],
    [
      "3",
      [
        [-36, 10],
        [-23, 60],
        [-36, 10],
      ],
      -23,
    ],
    [
      "4",
      [
        [-72, 10],
        [-36, 10],
        [-23, 60],
        [-36, 10],
        [-72, 10],
      ],
      -23,
    ],
    [
      "5",
      [
        [-26, 20],
        [-20, 20.1],
        [-26, 20],
      ],
      -23,
    ],
  ])("comes to what EBU Tech 3341 asks of its case %s", (_, parts, lufs) => {
    const sound = tone(...parts);
    expect(Math.abs(measured([sound, sound]).integrated - lufs)).toBeLessThanOrEqual(0.1);
  });

  it("shows the last 0.4 and 3 seconds, whatever the size of the blocks", () => {
    const sound = tone([-23, 5], [-33, 3]);
    for (const block of [1, 441, 4800, 1e6]) {
      const meter = measured([sound, sound], block);
      expect(meter.momentary).toBeCloseTo(-33, 1);
      expect(meter.shortTerm).toBeCloseTo(-33, 1);
    }
  });

  it("hears one channel 3 LU below two of the same", () => {
    const sound = tone([-23, 5]);
    expect(measured([sound]).integrated).toBeCloseTo(measured([sound, sound]).integrated - 10 * Math.log10(2), 6);
  });

  it("is -Infinity for silence and for less than a window", () => {
    const meter = measured([new Float32Array(RATE)]);
    expect([meter.momentary, meter.integrated, new TruePeak().dbtp]).toEqual([-Infinity, -Infinity, -Infinity]);
    expect(measured([tone([-23, 0.3])]).integrated).toBe(-Infinity);
  });

  it.each([1, 2])("agrees with ffmpeg over %d channels of something like speech", (channels) => {
    const sound = Array.from({ length: channels }, (_, i) => babble(30, 7 + i));
    const theirs = byFfmpeg(sound);
    expect(Math.abs(measured(sound).integrated - theirs.integrated)).toBeLessThanOrEqual(0.1);
    const peak = Math.max(
      ...sound.map((samples) => {
        const one = new TruePeak();
        one.push(samples);
        return one.dbtp;
      }),
    );
    // Theirs is told to a tenth, and fills in between by another filter: to 0.3 dB, as Tech 3341 allows (from memory).
    expect(Math.abs(peak - theirs.truePeak)).toBeLessThanOrEqual(0.3);
  });

  it("sees a peak that lies between two samples", () => {
    // A quarter of the rate, met at 45 degrees: no sample is above -3 dB of the wave's height.
    const wave = Float32Array.from({ length: 4800 }, (_, i) => 0.5 * Math.sin((Math.PI * i) / 2 + Math.PI / 4));
    const peak = new TruePeak();
    peak.push(wave);
    expect(Math.max(...wave)).toBeCloseTo(0.3536, 3);
    expect(Math.abs(peak.dbtp - 20 * Math.log10(0.5))).toBeLessThanOrEqual(0.3);
  });

  it("finds the same peak whatever is passed over, in blocks of any size", () => {
    const sound = babble(3, 11).map((sample, i) => (i > RATE && i < RATE + 500 ? 0.9 : 0.05) * Math.tanh(8 * sample));
    const peaks = [1, 7, 256, 1000, sound.length].map((block) => {
      const peak = new TruePeak();
      for (let at = 0; at < sound.length; at += block) peak.push(sound.subarray(at, at + block));
      return peak.dbtp;
    });
    expect(new Set(peaks).size).toBe(1);
  });

  it.each([[44_100], [96_000], [16_000]])("hears the same at %d Hz", (rate) => {
    const sound = Float32Array.from({ length: 5 * rate }, (_, i) => 0.1 * Math.sin((2 * Math.PI * 1000 * i) / rate));
    const meter = new LoudnessMeter(rate, 1);
    meter.push([sound]);
    const at48 = tone([-20, 5]);
    expect(Math.abs(meter.integrated - measured([at48]).integrated)).toBeLessThanOrEqual(0.1);
  });

  it("refuses what is no sound", () => {
    expect(() => new LoudnessMeter(0, 1)).toThrow(RangeError);
    expect(() => new LoudnessMeter(Number.NaN, 1)).toThrow(RangeError);
    expect(() => new LoudnessMeter(RATE, 0)).toThrow(RangeError);
  });
});
