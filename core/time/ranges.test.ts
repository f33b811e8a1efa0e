import { describe, expect, it } from "vitest";
import { intersect, measure, subtract, union, type Range, type RangeSet } from "./ranges";

// Outside check: every operation is done again moment by moment on a small line of time.
const LINE = 60;
const bits = (ranges: Iterable<Range>) => {
  const line = new Array<boolean>(LINE).fill(false);
  for (const r of ranges) for (let t = r.from; t < r.to; t++) line[t] = true;
  return line;
};
/** A small generator with a fixed seed, so that a failure can be repeated. */
function* random(seed: number): Generator<number, never> {
  for (let s = seed; ;) yield (s = (s * 1_103_515_245 + 12_345) % 2_147_483_648) / 2_147_483_648;
}
const dice = random(7);
const some = (): Range[] =>
  Array.from({ length: Math.floor(dice.next().value * 7) }, () => {
    const from = Math.floor(dice.next().value * LINE);
    return { from, to: Math.min(LINE, from + Math.floor(dice.next().value * 14) - 1) };
  });
const isSet = (set: RangeSet) => set.every((r, i) => r.to > r.from && (i === 0 || r.from > set[i - 1]!.to));

describe("range sets against a count moment by moment", () => {
  it("agrees on 2,000 random pairs", () => {
    for (let n = 0; n < 2_000; n++) {
      const [x, y] = [some(), some()];
      const [a, b] = [union(x), union(y)];
      const [p, q] = [bits(x), bits(y)];
      expect(isSet(a)).toBe(true);
      expect(bits(a)).toEqual(p);
      expect(bits(intersect(a, b))).toEqual(p.map((on, t) => on && q[t]!));
      expect(bits(subtract(a, b))).toEqual(p.map((on, t) => on && !q[t]!));
      expect(isSet(intersect(a, b)) && isSet(subtract(a, b))).toBe(true);
      expect(measure(a)).toBe(p.filter(Boolean).length);
    }
  });

  it("joins ranges that touch, and drops empty and reversed ones", () => {
    expect(
      union([
        { from: 5, to: 9 },
        { from: 0, to: 5 },
        { from: 3, to: 3 },
        { from: 8, to: 2 },
      ]),
    ).toEqual([{ from: 0, to: 9 }]);
  });
});
