import { describe, expect, it } from "vitest";
import { FLOOR, levelWord, PeakHold, toDecibels } from "./level";

describe("levels", () => {
  // By definition of dBFS: a factor of 10 in amplitude is 20 dB, of 2 is 6.0206 dB.
  it.each([
    [1, 0],
    [0.5, -6.0206],
    [0.1, -20],
    [0.001, -60],
    [0, FLOOR],
  ])("amplitude %d is %d dBFS", (a, db) => expect(toDecibels(a)).toBeCloseTo(db, 3));

  it("holds a peak, then lets it fall, and takes a new one at once", () => {
    const peak = new PeakHold(1000, 20);
    expect(peak.next(-10, 0)).toBe(-10);
    expect(peak.next(-40, 900)).toBe(-10);
    expect(peak.next(-40, 1500)).toBeCloseTo(-20, 6);
    expect(peak.next(-15, 1600)).toBe(-15);
    expect(peak.next(FLOOR, 60_000)).toBe(FLOOR);
  });

  it("names levels", () => expect([-60, -40, -12, 0].map(levelWord)).toEqual(["silent", "quiet", "good", "too loud"]));
});
