import { describe, expect, it } from "vitest";
import { someSpans } from "../../testing/spans";
import { fold, NOTHING_FOLDED, type SpanColumns } from "./fold";
import { seenBy } from "./figures";
import { sampleSteps } from "./steps";

/** Counts every millisecond of every viewer by hand. */
function bruteForce({ viewer, from, to }: SpanColumns, viewers: number, length: number) {
  const played = Array.from({ length: viewers }, () => new Int32Array(length));
  viewer.forEach((v, i) => {
    for (let ms = from[i]!; ms < to[i]!; ms++) played[v]![ms]!++;
  });
  return played;
}

// Outside check: against a count of every millisecond.
describe("folding spans", () => {
  it.each([1, 2, 3, 4, 5])("agrees with a brute-force count at 1 ms (data %i)", (seed) => {
    const [viewers, length] = [7, 3_000];
    const columns = someSpans(120, viewers, length, seed);
    const played = bruteForce(columns, viewers, length);
    const folded = fold(NOTHING_FOLDED, columns, viewers);
    for (let v = 0; v < viewers; v++) {
      const seen = new Int32Array(length);
      for (const { from, to } of seenBy(folded, v)) seen.fill(1, from / 1000, to / 1000);
      expect(seen).toEqual(played[v]!.map((n) => Math.min(1, n)));
    }
    const all = Array.from({ length }, (_, ms) => played.reduce((sum, p) => sum + p[ms]!, 0));
    expect(
      sampleSteps(
        folded.plays,
        Array.from({ length }, (_, ms) => ms),
      ),
    ).toEqual(all);
  });

  it("comes out the same in one go and in steps, also with viewers that come later", () => {
    const all = someSpans(400, 9, 5_000, 11);
    const part = (a: number, b: number, of = all): SpanColumns => ({
      viewer: of.viewer.slice(a, b),
      from: of.from.slice(a, b),
      to: of.to.slice(a, b),
    });
    all.viewer = all.viewer.map((v, i) => (i < 200 ? v % 4 : v));
    const once = fold(NOTHING_FOLDED, all, 9);
    const steps = fold(fold(fold(NOTHING_FOLDED, part(0, 120), 4), part(120, 200), 4), part(200, 400), 9);
    expect(steps).toEqual(once);
  });

  it("takes nothing, and empty and backward spans, for nothing", () => {
    expect(
      fold(NOTHING_FOLDED, { viewer: new Uint32Array(0), from: new Uint32Array(0), to: new Uint32Array(0) }, 0),
    ).toEqual(NOTHING_FOLDED);
    const empty = fold(
      NOTHING_FOLDED,
      { viewer: Uint32Array.of(0, 0), from: Uint32Array.of(5, 9), to: Uint32Array.of(5, 3) },
      2,
    );
    expect([seenBy(empty, 0), seenBy(empty, 1), empty.plays.at.length]).toEqual([[], [], 0]);
  });

  it("joins what touches, and keeps apart what does not, at lengths of days", () => {
    const day = 86_400_000;
    const folded = fold(
      NOTHING_FOLDED,
      {
        viewer: Uint32Array.of(0, 0, 0),
        from: Uint32Array.of(day, 0, 2 * day + 1),
        to: Uint32Array.of(2 * day, day, 3 * day),
      },
      1,
    );
    expect(seenBy(folded, 0).map((s) => [s.from / 1000, s.to / 1000])).toEqual([
      [0, 2 * day],
      [2 * day + 1, 3 * day],
    ]);
  });
});
