import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { intersect, union, type Range } from "../time/ranges";
import { closedAt, inOrderOf, leftOut, lengthOf, outOf, putBack, recipeOf } from "./edits";
import { frameAt, gridAfter, momentOf, onGrid } from "./frames";
import { parseRecipe } from "./recipe";
import { startOfTake } from "./source-line";

const FRAMES = 40;
/** A stretch of so many frames of a take. */
const of = (take: number, from: number, to: number): Range => ({
  from: startOfTake(take) + momentOf(from),
  to: startOfTake(take) + momentOf(to),
});
const takes = [of(1, 0, FRAMES), of(2, 0, FRAMES)];
/** Outside check: what is shown, written out frame by frame. */
const written = (kept: readonly Range[]) =>
  kept.flatMap(({ from, to }) => Array.from({ length: frameAt(to) - frameAt(from) }, (_, n) => frameAt(from) + n));

describe("the grid of pictures", () => {
  it("goes through every take, and back", () => {
    for (const frame of [0, 1, 2, 29, 30, 31, 100_000, frameAt(startOfTake(48)) + 7])
      expect(frameAt(momentOf(frame))).toBe(frame);
    expect([onGrid(33_000), onGrid(50_001)]).toEqual([33_333, 66_667]);
    expect(frameAt(startOfTake(2)) % 30).toBe(0);
  });

  it("covers what has ended, and not a frame more", () => {
    expect(gridAfter(momentOf(45))).toBe(momentOf(45));
    expect(gridAfter(momentOf(45) + 2_000)).toBe(momentOf(46));
  });
});

describe("leaving out and putting back", () => {
  it("comes out as frames that are struck off a list", () => {
    const pick = random(21);
    for (let round = 0; round < 200; round++) {
      let kept: Range[] = [...takes];
      let list = written(kept);
      for (let n = 0; n < 6; n++) {
        const take = 1 + pick(2);
        const from = pick(FRAMES);
        const cut = of(take, from, from + 1 + pick(FRAMES - from));
        const struck = new Set(written([cut]));
        kept = leftOut(kept, cut);
        list = list.filter((frame) => !struck.has(frame));
        expect(written(kept)).toEqual(list);
      }
      if (kept.length > 0) expect(parseRecipe(recipeOf(kept)).kept).toEqual(kept);
    }
  });

  it("is undone by putting back all that is out, in whichever order", () => {
    const pick = random(4);
    for (let round = 0; round < 200; round++) {
      let kept: Range[] = [...takes];
      for (let n = 0; n < 5; n++) {
        const from = pick(FRAMES - 1);
        kept = leftOut(kept, of(1 + pick(2), from, from + 1 + pick(FRAMES - from)));
      }
      if (new Set(kept.map(({ from }) => from >= startOfTake(2))).size < 2) continue;
      const out = outOf(kept, takes).sort(() => pick(3) - 1);
      expect(intersect(union(out), union(kept))).toEqual([]);
      expect(lengthOf(out) + lengthOf(kept)).toBe(lengthOf(takes));
      for (const stretch of out) kept = putBack(kept, stretch);
      expect(kept).toEqual(takes);
    }
  });

  it("puts back only what is out, beside what it belongs to", () => {
    const kept = [of(2, 0, 10), of(1, 0, 10), of(1, 20, 30)];
    expect(putBack(kept, of(1, 5, 25))).toEqual([of(2, 0, 10), of(1, 0, 30)]);
    expect(putBack(kept, of(1, 12, 15))).toEqual([of(2, 0, 10), of(1, 0, 10), of(1, 12, 15), of(1, 20, 30)]);
    expect(putBack([of(1, 20, 30)], of(1, 5, 10))).toEqual([of(1, 5, 10), of(1, 20, 30)]);
    expect(putBack([of(1, 0, 10)], of(2, 5, 10))).toEqual([of(1, 0, 10), of(2, 5, 10)]);
  });

  it("closes what is open, on the grid", () => {
    const recipe = { version: 2 as const, kept: [of(1, 0, 10), { from: startOfTake(2), to: null }] };
    expect(closedAt(recipe, startOfTake(2) + momentOf(8))).toEqual([of(1, 0, 10), of(2, 0, 8)]);
    expect(closedAt(recipe, startOfTake(2))).toEqual([of(1, 0, 10)]);
  });
});

describe("takes in another order", () => {
  it("keep their stretches, in the order in which they stand within a take", () => {
    const kept = [of(1, 0, 6), of(2, 0, 4), of(1, 8, 10)];
    expect(inOrderOf(kept, [2, 1])).toEqual([of(2, 0, 4), of(1, 0, 6), of(1, 8, 10)]);
    expect(inOrderOf([of(1, 5, 6), of(2, 0, 4), of(1, 0, 5)], [2, 1])).toEqual([of(2, 0, 4), of(1, 5, 6), of(1, 0, 5)]);
    expect(inOrderOf([of(1, 0, 5), of(2, 0, 4), of(1, 5, 6)], [2, 1])).toEqual([of(2, 0, 4), of(1, 0, 6)]);
  });

  it.each([[[]], [[1]], [[1, 1]], [[1, 3]], [[1, 2, 3]]])("are not %j where two others are shown", (order) => {
    expect(() => inOrderOf([of(1, 0, 6), of(2, 0, 4)], order)).toThrow(RangeError);
  });
});
