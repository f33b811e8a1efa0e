import { describe, expect, it } from "vitest";
import { ShownLine } from "./shown-line";
import { startOfTake } from "./source-line";
import { trackSpans } from "./track-spans";

const S = 1_000_000;
const of = (take: number, from: number, to: number | null) => ({
  from: startOfTake(take) + from * S,
  to: to === null ? null : startOfTake(take) + to * S,
});
const lineOf = (...kept: ReturnType<typeof of>[]) => new ShownLine({ version: 2, kept }, Infinity);
const spans = (line: ShownLine, ends: [number, number][]) =>
  trackSpans(line, new Map(ends))?.map(({ from, to }) => [from / S, to / S]) ?? null;

describe("where a track has something", () => {
  const two = lineOf(of(1, 0, 10), of(2, 0, 6));
  it("is everywhere where all takes have it, and where it begins with the recording", () => {
    expect(
      spans(two, [
        [1, 10 * S],
        [2, 6 * S],
      ]),
    ).toBeNull();
    expect(
      spans(two, [
        [1, 9.7 * S],
        [2, 6 * S],
      ]),
    ).toBeNull();
    expect(spans(two, [[1, 10 * S]])).toBeNull();
    expect(spans(lineOf(of(1, 0, null)), [[1, Infinity]])).toBeNull();
  });
  it("is only in the takes that have it", () => {
    expect(spans(two, [[2, 6 * S]])).toEqual([[10, 16]]);
    expect(spans(lineOf(of(1, 0, 10), of(2, 0, 6), of(1, 12, 20)), [[1, 20 * S]])).toEqual([
      [0, 10],
      [16, 24],
    ]);
    expect(spans(two, [])).toEqual([]);
  });
  it("ends where it was lost, and goes on with another take", () => {
    expect(
      spans(two, [
        [1, 4 * S],
        [2, 6 * S],
      ]),
    ).toEqual([
      [0, 4],
      [10, 16],
    ]);
    // What was lost after a cut is not there for as long as its take would have been.
    expect(
      spans(lineOf(of(1, 3, 10), of(2, 0, 6)), [
        [1, 4 * S],
        [2, 6 * S],
      ]),
    ).toEqual([
      [0, 1],
      [7, 13],
    ]);
  });
  it("has no end while its take grows", () => {
    expect(spans(lineOf(of(1, 0, 10), of(2, 0, null)), [[2, Infinity]])).toEqual([[10, 1e9]]);
  });
});
