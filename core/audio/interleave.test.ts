import { describe, expect, it } from "vitest";
import { interleave } from "./interleave";

const f = (...values: number[]) => Float32Array.from(values);

describe("planes as one block", () => {
  it("keeps a mono block of the same rate as it is", () =>
    expect([...interleave([f(0.5, -0.25, 1)], 48_000, 48_000, 1)]).toEqual([0.5, -0.25, 1]));

  it("mixes two channels down, and doubles one", () => {
    expect([...interleave([f(1, 0), f(0, 0.5)], 48_000, 48_000, 1)]).toEqual([0.5, 0.25]);
    expect([...interleave([f(1, -1)], 48_000, 48_000, 2)]).toEqual([1, 1, -1, -1]);
    expect([...interleave([f(1, 2), f(3, 4)], 48_000, 48_000, 2)]).toEqual([1, 3, 2, 4]);
  });

  it("brings 44.1 kHz to 48 kHz without changing a sine", () => {
    const sine = Float32Array.from({ length: 4410 }, (_, i) => Math.sin((2 * Math.PI * 440 * i) / 44_100));
    const out = interleave([sine], 44_100, 48_000, 1);
    expect(out).toHaveLength(4800);
    const off = [...out].slice(0, 4790).map((v, i) => Math.abs(v - Math.sin((2 * Math.PI * 440 * i) / 48_000)));
    expect(Math.max(...off)).toBeLessThan(0.001);
  });

  it("is empty for nothing", () => expect(interleave([], 48_000, 48_000, 1)).toHaveLength(0));
});
