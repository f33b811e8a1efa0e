import { describe, expect, it } from "vitest";
import { ArrivalOffset } from "./arrival";

/** Blocks of 10 ms from a device whose clock began 7 s before ours. */
const AHEAD = 7_000_000;
const feed = (offset: ArrivalOffset, blocks: number, delay: (n: number) => number, drift = 0, from = 0) => {
  let last = Number.NaN;
  for (let n = from; n < from + blocks; n++) {
    const end = (n + 1) * 10_000;
    last = offset.next(end * (1 + drift) + delay(n), end + AHEAD);
  }
  return last;
};

describe("where a device's time lies in ours", () => {
  it("is told by the least delayed block, not by the first", () => {
    // The first block is half a second late, and those behind it arrive together with it.
    expect(feed(new ArrivalOffset(), 100, (n) => Math.max(0, 500_000 - n * 10_000))).toBe(-AHEAD);
  });

  it("takes no notice of single late blocks", () => {
    expect(feed(new ArrivalOffset(), 3000, (n) => (n % 50 === 7 ? 90_000 : 3_000))).toBe(-AHEAD + 3_000);
  });

  it("follows a device that runs slow, by at most two windows of its drift", () => {
    const hour = 360_000;
    const found = feed(new ArrivalOffset(), hour, () => 0, 0.0001) + AHEAD;
    const drifted = hour * 10_000 * 0.0001;
    expect(drifted - found).toBeGreaterThanOrEqual(0);
    expect(drifted - found).toBeLessThanOrEqual(2 * 5_000_000 * 0.0001 + 1);
  });

  it("follows a device whose first blocks tell another time, both ways", () => {
    const offset = new ArrivalOffset();
    // Measured: the first quarter of a second of a new source was told 1.9 s ahead of all that followed.
    for (let n = 1; n <= 25; n++) offset.next(n * 10_000, n * 10_000 + AHEAD + 1_900_000);
    // Those that are held until it is known where they belong are of no use: their own time was another.
    expect(offset.stepsBack(26 * 10_000 + AHEAD)).toBe(true);
    expect(feed(offset, 1, () => 0, 0, 25)).toBe(-AHEAD);
    expect(offset.stepsBack(27 * 10_000 + AHEAD)).toBe(false);
    expect(offset.next(270_000, 270_000 + AHEAD + 500_000)).toBe(-AHEAD - 500_000);
  });

  it("does not take an unsteady clock for another time", () => {
    const offset = new ArrivalOffset();
    offset.next(10_000, 10_000 + AHEAD);
    expect(offset.stepsBack(4_000 + AHEAD)).toBe(false);
    expect(offset.next(12_000, 4_000 + AHEAD)).toBe(-AHEAD);
  });

  it("begins anew after a pause", () => {
    const offset = new ArrivalOffset();
    feed(offset, 10, () => 0);
    offset.forget();
    expect(offset.next(5_000_000, 20_000_000)).toBe(-15_000_000);
  });
});
