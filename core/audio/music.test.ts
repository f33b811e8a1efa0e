import { describe, expect, it } from "vitest";
import { LEVELS_A_SECOND } from "./pauses";
import { speechIn } from "./music";
import { startOfTake } from "../recipe/source-line";

const S = 1_000_000;

describe("where music is low", () => {
  /** Levels of so many seconds each, one after the other. dBFS */
  const levels = (...parts: [seconds: number, level: number][]) =>
    Int8Array.from(parts.flatMap(([seconds, level]) => new Array<number>(seconds * LEVELS_A_SECOND).fill(level)));
  const take = { from: startOfTake(2), to: startOfTake(2) + 20 * S };
  const seconds = (found: readonly { from: number; to: number }[]) =>
    found.map(({ from, to }) => [(from - take.from) / S, (to - take.from) / S]);

  it("is where somebody speaks, a little before and after, and in short pauses", () => {
    const speech = speechIn(levels([3, -70], [4, -20], [1, -70], [4, -22], [5, -70], [3, -20]), take);
    const found = seconds(speech);
    expect(found).toHaveLength(2);
    // From 3 to 12, the short pause with it; and from 17 on.
    expect(found[0]![0]).toBeCloseTo(2.7, 1);
    expect(found[0]![1]).toBeCloseTo(12.3, 1);
    expect(found[1]![0]).toBeCloseTo(16.7, 1);
    expect(found[1]![1]).toBe(20);
  });

  it("is everywhere where no voice stands out, and nowhere without a voice", () => {
    expect(seconds(speechIn(levels([20, -30]), take))).toEqual([[0, 20]]);
    expect(speechIn(null, take)).toEqual([]);
  });
});
