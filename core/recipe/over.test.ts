import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { momentOf } from "./frames";
import { checkOvers, inOrder, painted, stretchAt, type Overs } from "./over";
import { RecipeError } from "./recipe-error";
import { startOfTake } from "./source-line";

const FRAMES = 80;

describe("what holds over stretches", () => {
  it("is painted over what was there, moment by moment", () => {
    for (let seed = 0; seed < 80; seed++) {
      const pick = random(seed);
      let overs: Overs<{ value: number }> = {};
      // Against brute force: what holds in each frame.
      const frames = new Array<number | null>(FRAMES).fill(null);
      for (let n = 0; n < 30; n++) {
        const from = pick(FRAMES - 1);
        const to = from + 1 + pick(FRAMES - from);
        const value = pick(4) === 0 ? null : n;
        const stretch = { from: momentOf(from), to: momentOf(Math.min(FRAMES, to)) };
        const next: Record<string, { from: number; to: number; value: number }> = { ...overs };
        for (const put of painted(overs, stretch, value === null ? null : { value })) {
          if (put.value) next[put.id] = put.value;
          else delete next[put.id];
        }
        overs = next;
        checkOvers(overs, "");
        frames.fill(value, from, to);
      }
      const held = frames.map((_, f) => {
        const at = momentOf(f);
        return inOrder(overs).find((o) => o.from <= at && at < o.to)?.value ?? null;
      });
      expect(held).toEqual(frames);
    }
    expect(painted({}, { from: 5, to: 5 }, { value: 1 })).toEqual([]);
  });

  it("are read within one take, and named after where they begin", () => {
    expect(stretchAt({ from: 0, to: 40 }, "")).toEqual({ from: 0, to: 40 });
    for (const wrong of [
      { from: 1.5, to: 3 },
      { from: -1, to: 3 },
      { from: 3, to: 3 },
      { from: 0, to: startOfTake(2) + 1 },
    ])
      expect(() => stretchAt(wrong, "/x")).toThrow(RecipeError);
    expect(() => checkOvers({ "3": { from: 4, to: 5 } }, "/z")).toThrow("/z/3");
    expect(() => checkOvers({ "3": { from: 3, to: 5 }, "4": { from: 4, to: 6 } }, "/z")).toThrow("/z/4");
  });
});
