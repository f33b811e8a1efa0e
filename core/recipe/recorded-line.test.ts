import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import type { Range } from "../time/ranges";
import { inOrderOf, leftOut } from "./edits";
import { frameAt, momentOf } from "./frames";
import { PlayOrder, RecordedLine } from "./recorded-line";
import { startOfTake } from "./source-line";

const LENGTHS = [40, 25, 30];
const of = (take: number, from: number, to: number): Range => ({
  from: startOfTake(take) + momentOf(from),
  to: startOfTake(take) + momentOf(to),
});
const takes = LENGTHS.map((frames, i) => of(i + 1, 0, frames));
const line = new RecordedLine(takes);
/** Brute force: every frame of the takes, in recorded order, as [take, frame]. */
const frames = LENGTHS.flatMap((count, i) => Array.from({ length: count }, (_, n) => [i + 1, n] as const));
const sourceOf = ([take, n]: readonly [number, number]) => startOfTake(take) + momentOf(n);

describe("recorded time", () => {
  it("goes through all takes one after the other, frame by frame", () => {
    expect(frameAt(line.length)).toBe(95);
    frames.forEach((frame, n) => {
      expect(frameAt(line.at(sourceOf(frame)))).toBe(n);
      expect(frameAt(line.momentOf(line.onFrame(momentOf(n))))).toBe(frameAt(sourceOf(frame)));
    });
    expect([line.onFrame(-5), frameAt(line.onFrame(1e9))]).toEqual([0, 95]);
    expect(line.toSource({ from: momentOf(30), to: momentOf(50) }).map(({ from, to }) => frameAt(to - from))).toEqual([
      10, 10,
    ]);
  });

  it("is played as it will be shown: each frame that is kept, once, in its order", () => {
    const pick = random(5);
    for (let round = 0; round < 100; round++) {
      let kept: Range[] = inOrderOf(
        takes,
        [
          [1, 2, 3],
          [3, 1, 2],
          [2, 3, 1],
        ][pick(3)]!,
      );
      for (let n = 0; n < 6; n++) {
        const take = 1 + pick(3);
        const from = pick(LENGTHS[take - 1]! - 1);
        const next = leftOut(kept, of(take, from, Math.min(LENGTHS[take - 1]!, from + 1 + pick(12))));
        if (next.length > 0) kept = next;
      }
      const order = new PlayOrder(line, kept);
      const expected = kept.flatMap((stretch) => {
        const { from, to } = line.of(stretch);
        return Array.from({ length: frameAt(to - from) }, (_, n) => frameAt(from) + n);
      });
      const played: number[] = [];
      let at: number | null = line.of(kept[0]!).from;
      while (at !== null) {
        const { until, then } = order.from(at);
        for (let frame = frameAt(at); frame < frameAt(until); frame++) played.push(frame);
        at = then;
      }
      expect(played).toEqual(expected);
      // From what is left out it goes on where that was taken out.
      for (const cut of line.cuts(kept)) {
        const { until, then } = order.from(cut.from);
        expect(until).toBe(cut.from);
        const shown = order.shownAt(cut.from);
        expect(then === null ? frameAt(order.length) : expected.indexOf(frameAt(then))).toBe(frameAt(shown));
      }
      expect(expected.length + line.cuts(kept).reduce((sum, { from, to }) => sum + frameAt(to - from), 0)).toBe(95);
    }
  });
});
