import { describe, expect, it } from "vitest";
import { Interleaver } from "./interleave";

const f = (...values: number[]) => Float32Array.from(values);
const once = (planes: Float32Array[], from: number, to: number, channels: number) => [
  ...new Interleaver(to, channels).next(planes, from),
];

describe("planes as one block", () => {
  it("keeps a mono block of the same rate as it is", () =>
    expect(once([f(0.5, -0.25, 1)], 48_000, 48_000, 1)).toEqual([0.5, -0.25, 1]));

  it("mixes two channels down, and doubles one", () => {
    expect(once([f(1, 0), f(0, 0.5)], 48_000, 48_000, 1)).toEqual([0.5, 0.25]);
    expect(once([f(1, -1)], 48_000, 48_000, 2)).toEqual([1, 1, -1, -1]);
    expect(once([f(1, 2), f(3, 4)], 48_000, 48_000, 2)).toEqual([1, 3, 2, 4]);
  });

  it("is empty for nothing", () => expect(once([], 48_000, 48_000, 1)).toEqual([]));
});

describe("blocks that follow each other", () => {
  const sine = (rate: number, length: number) =>
    Float32Array.from({ length }, (_, i) => Math.sin((2 * Math.PI * 440 * i) / rate));
  /** A second in blocks of a size, at 48 kHz. */
  function inBlocks(rate: number, size: number): number[] {
    const interleaver = new Interleaver(48_000, 1);
    const all = sine(rate, rate);
    const out: number[] = [];
    for (let at = 0; at < all.length; at += size) out.push(...interleaver.next([all.subarray(at, at + size)], rate));
    return out;
  }

  it.each([
    [44_100, 441],
    [44_100, 1_024],
    [44_100, 128],
    [44_100, 1],
    [32_000, 320],
    [96_000, 960],
    [16_000, 333],
  ])("from %d Hz, %d at a time, are one sine, as long as it was", (rate, size) => {
    const out = inBlocks(rate, size);
    expect(Math.abs(out.length - 48_000)).toBeLessThan(4);
    const off = out.map((value, i) => Math.abs(value - Math.sin((2 * Math.PI * 440 * i) / 48_000)));
    // As near as a straight line between two samples is.
    expect(Math.max(...off)).toBeLessThan((2 * Math.PI * (440 / rate)) ** 2 / 8 + 1e-6);
  });

  it("keeps every sample of the same rate", () => {
    const interleaver = new Interleaver(48_000, 2);
    const blocks = [f(1, 2), f(3), f(), f(4, 5, 6)].map((block) => [...interleaver.next([block, block], 48_000)]);
    expect(blocks.flat()).toEqual([1, 1, 2, 2, 3, 3, 4, 4, 5, 5, 6, 6]);
  });

  it("begin anew after a pause, and where a device has another rate or more channels", () => {
    const interleaver = new Interleaver(48_000, 1);
    interleaver.next([f(9, 9, 9)], 24_000);
    interleaver.forget();
    expect(interleaver.next([f(1, 1)], 24_000)[0]).toBe(1);
    expect(interleaver.next([f(2, 2)], 48_000)).toEqual(f(2, 2));
    expect(interleaver.next([f(3, 3), f(5, 5)], 48_000)).toEqual(f(4, 4));
  });
});
