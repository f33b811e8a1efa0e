import { describe, expect, it } from "vitest";
import { mistakeAt, nearestPlace, placesIn, quietIn } from "./proposals";

const S = 1_000_000;
const pause = (from: number, to: number) => ({ from: from * S, to: to * S });
const tell = ({ from, to }: { from: number; to: number }) => [from / S, to / S].map((s) => Math.round(s * 10) / 10);
const END = 60 * S;

describe("what went wrong", () => {
  const pauses = [pause(2, 2.6), pause(6, 6.5), pause(12, 14), pause(20, 20.4)];
  it("goes from the pause before it to where speech goes on after it", () => {
    expect(tell(mistakeAt(11 * S, pauses, END))).toEqual([6.4, 13.9]);
    // Told in the pause after it.
    expect(tell(mistakeAt(12.5 * S, pauses, END))).toEqual([6.4, 13.9]);
    // Told when speech had just gone on.
    expect(tell(mistakeAt(14.1 * S, pauses, END))).toEqual([6.4, 13.9]);
  });
  it("is a little before the press where nobody knows of pauses, and never beyond the take", () => {
    expect(tell(mistakeAt(11 * S, [], END))).toEqual([8, 11]);
    expect(tell(mistakeAt(1 * S, [], END))).toEqual([0, 1]);
    expect(tell(mistakeAt(59 * S, [pause(55, 56), pause(59.5, 61)], END))).toEqual([55.9, 60]);
    const { from, to } = mistakeAt(0, [], END);
    expect(to).toBeGreaterThan(from);
  });
});

describe("a place in a pause", () => {
  const places = placesIn([pause(2, 2.6), pause(6, 6.1)]);
  it.each([
    [2.1, 2.5],
    [2.9, 2.5],
    [5.5, 6],
    [4, 4],
  ])("near %d s is %d s", (at, expected) => {
    expect(Math.round(nearestPlace(at * S, places, S) / 1e5) / 10).toBe(expected);
  });
  it("is the moment itself where there is none", () => expect(nearestPlace(S, [], S)).toBe(S));
});

describe("quiet", () => {
  const take = { from: 0, to: 60 * S };
  const told = (pauses: { from: number; to: number }[], longer = 2, keep = 0.8) =>
    quietIn(pauses, take, longer * S, keep * S).map(({ why, ...stretch }) => [why, ...tell(stretch)]);
  it("is left out before the first word and after the last, and shortened in between", () => {
    expect(told([pause(0, 3), pause(10, 11), pause(20, 24), pause(50, 60)])).toEqual([
      ["before", 0, 2.9],
      ["pause", 20.4, 23.6],
      ["after", 50.2, 60],
    ]);
  });
  it("is no reason where it is short, where nobody knows of pauses, and where there is nothing else", () => {
    expect(told([pause(0, 0.4), pause(20, 22.2), pause(59.7, 60)], 2, 2)).toEqual([]);
    expect([told([]), told([pause(0, 60)])]).toEqual([[], []]);
  });
});
