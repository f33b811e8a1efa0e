import { describe, expect, it } from "vitest";
import { VoiceMemory } from "./voice-memory";

const S = 1_000_000;
/** A ramp over a second for each second, so that every sample tells its place. */
const ramp = (seconds: number) => Float32Array.from({ length: seconds * 48_000 }, (_, n) => (n % 48_000) / 48_000);
const pushed = (memory: VoiceMemory, samples: Float32Array) => {
  for (let at = 0; at < samples.length; at += 700) memory.push(samples.subarray(at, at + 700));
  return memory;
};

describe("what was said last", () => {
  it("is remembered at its place", () => {
    const { from, to, samples, levels } = pushed(new VoiceMemory(10), ramp(4)).of({ from: 1.5 * S, to: 2.5 * S });
    expect([from, to, samples.length, levels.length]).toEqual([1.5 * S, 2.5 * S, 16_000, 50]);
    for (const n of [0, 4_000, 12_000]) expect(samples[n]! / 32_767).toBeCloseTo((0.5 + n / 16_000) % 1, 3);
  });

  it("is the last part where the rest is forgotten, and as much as there is", () => {
    const memory = pushed(new VoiceMemory(3), ramp(8));
    expect(memory.of({ from: 0, to: 20 * S })).toMatchObject({ from: 5 * S, to: 8 * S });
    const { samples } = memory.of({ from: 6 * S, to: 7 * S });
    expect(samples[8_000]! / 32_767).toBeCloseTo(0.5, 3);
    expect(memory.of({ from: 0, to: 2 * S }).samples).toHaveLength(0);
    expect(new VoiceMemory(3).of({ from: 0, to: S }).samples).toHaveLength(0);
  });
});
