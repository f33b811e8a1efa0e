import { describe, expect, it } from "vitest";
import { amplify, factorOf, gainTowards } from "./gain";
import { measureVoice } from "./loudness";

describe("a gain", () => {
  it("is a factor of amplitude", () => {
    expect(factorOf(0)).toBe(1);
    expect(factorOf(20)).toBe(10);
    expect(factorOf(-6)).toBeCloseTo(0.501, 3);
  });

  it.each([
    ["a quiet voice is turned up", { loudness: -24, peak: -14 }, 8],
    ["as far as its peaks allow", { loudness: -24, peak: -5.4 }, 4],
    ["and not at all where they allow none", { loudness: -20, peak: -0.4 }, 0],
    ["a loud one is turned down", { loudness: -9, peak: 0.5 }, -7],
    ["one that is right is left alone", { loudness: -16.3, peak: -4 }, 0],
    ["nobody knows what silence needs", { loudness: -Infinity, peak: -Infinity }, 0],
    ["nothing is turned up without end", { loudness: -60, peak: -50 }, 18],
  ])("%s", (_, voice, gain) => expect(gainTowards(voice, -16)).toBe(gain));

  it("brings a voice where it should be, measured again", () => {
    // A tone with pauses, as a voice has them.
    const samples = Float32Array.from({ length: 48_000 * 6 }, (_, i) =>
      Math.floor(i / 24_000) % 3 === 2 ? 0 : 0.05 * Math.sin((2 * Math.PI * 997 * i) / 48_000),
    );
    const before = measureVoice(samples, 48_000);
    amplify(samples, factorOf(gainTowards(before, -16)));
    expect(before.loudness).toBeLessThan(-25);
    expect(Math.abs(measureVoice(samples, 48_000).loudness + 16)).toBeLessThan(0.6);
  });

  it("goes evenly from one to another: nothing clicks when it is muted", () => {
    const samples = new Float32Array(480).fill(0.5);
    amplify(samples, 0, 1);
    expect(samples.at(-1)).toBe(0);
    for (let i = 1; i < samples.length; i++) expect(Math.abs(samples[i]! - samples[i - 1]!)).toBeLessThan(0.002);
  });

  it("leaves nothing beyond full scale", () => {
    const samples = Float32Array.of(0.5, -0.9, 0.01);
    amplify(samples, 4);
    expect([...samples].map((s) => Math.round(100 * s))).toEqual([100, -100, 4]);
  });
});
