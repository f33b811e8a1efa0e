import { execFileSync } from "node:child_process";
import { readFileSync } from "node:fs";
import { describe, expect, it } from "vitest";
import { openSuppression } from "./suppression";

/** A synthetic voice, as ffmpeg decodes it. */
function voice(): Float32Array<ArrayBuffer> {
  const args = ["-v", "error", "-i", "public/reference.m4a", "-ac", "1", "-ar", "48000", "-f", "f32le", "-"];
  const raw = execFileSync("ffmpeg", args, { maxBuffer: 2 ** 28 });
  return new Float32Array(raw.buffer.slice(raw.byteOffset, raw.byteOffset + raw.byteLength) as ArrayBuffer);
}
const { buffer: program } = Uint8Array.from(readFileSync("node_modules/@jitsi/rnnoise-wasm/dist/rnnoise.wasm"));
const decibels = (samples: Float32Array) =>
  10 * Math.log10(samples.reduce((sum, v) => sum + v * v, 0) / samples.length + 1e-12);

describe("suppression of noise", () => {
  it("leaves the voice as loud and where it was, and takes what is between the words down", async () => {
    const clean = voice();
    let seed = 1;
    const random = () => (seed = (seed * 16_807) % 2_147_483_647) / 2_147_483_647 - 0.5;
    const noisy = clean.map((v) => v + 0.035 * random());
    const suppression = await openSuppression(program, () => performance.now());
    const out: number[] = [];
    for (let from = 0; from < noisy.length; from += 441)
      for (const v of suppression.sound.push(noisy.subarray(from, from + 441))) out.push(v);
    for (const v of suppression.sound.flush()) out.push(v);
    suppression.close();
    const heard = Float32Array.from(out);
    expect(heard.length).toBe(noisy.length);

    const BLOCK = 4_800;
    const blocks = Array.from({ length: Math.floor(clean.length / BLOCK) - 10 }, (_, i) => {
      const of = (samples: Float32Array) => decibels(samples.subarray((i + 10) * BLOCK, (i + 11) * BLOCK));
      return { clean: of(clean), noisy: of(noisy), heard: of(heard) };
    }).sort((a, b) => a.clean - b.clean);
    for (const block of blocks.slice(0, 5)) expect(block.heard).toBeLessThan(block.noisy - 15);
    for (const block of blocks.slice(-10)) expect(Math.abs(block.heard - block.clean)).toBeLessThan(1);

    // Where it was: no other place fits better, to a quarter of a millisecond.
    const fit = (lag: number) => {
      let sum = 0;
      for (let i = 48_000; i < clean.length - 48_000; i += 3) sum += clean[i]! * heard[i + lag]!;
      return sum;
    };
    const lags = Array.from({ length: 121 }, (_, i) => i - 60);
    const best = lags.reduce((a, b) => (fit(b) > fit(a) ? b : a));
    expect(Math.abs(best)).toBeLessThanOrEqual(12);
    expect(suppression.spentMs()).toBeGreaterThan(0);
  });
});
