import { describe, expect, it } from "vitest";
import { ShownLine } from "../recipe/shown-line";
import { union } from "../time/ranges";
import { seenBy } from "./figures";
import { fold, NOTHING_FOLDED } from "./fold";
import { foldAsShown } from "./shown-fold";
import { sampleSteps } from "./steps";

const MS = 1000;

describe("what was watched, as shown", () => {
  it("is what each moment of the source line has, wherever it is shown", () => {
    let seed = 9;
    const pick = (below: number) => (seed = (seed * 48271) % 2147483647) % below;
    for (let round = 0; round < 100; round++) {
      const spans = Array.from({ length: 30 }, () => {
        const from = pick(90);
        return { viewer: pick(4), from, to: from + pick(25) };
      });
      const column = (name: "viewer" | "from" | "to") => Uint32Array.from(spans, (s) => s[name]);
      const folded = fold(NOTHING_FOLDED, { viewer: column("viewer"), from: column("from"), to: column("to") }, 4);
      const borders = [...new Set(Array.from({ length: 8 }, () => pick(100)))].sort((a, b) => a - b);
      const kept = borders.flatMap((from, i) => (i % 2 === 0 && borders[i + 1] ? [{ from, to: borders[i + 1]! }] : []));
      kept.sort(() => pick(3) - 1);
      const inMicros = kept.map(({ from, to }) => ({ from: from * MS, to: to * MS }));
      const shown = foldAsShown(folded, new ShownLine({ version: 2, kept: inMicros }, 0));
      // Outside check: the source line written out, ms by ms, and looked at in the order shown.
      const list = kept.flatMap(({ from, to }) => Array.from({ length: to - from }, (_, i) => from + i));
      const plays = list.map((ms) => spans.filter((s) => s.from <= ms && ms < s.to).length);
      expect(sampleSteps(shown.plays, [...list.keys()])).toEqual(plays);
      for (let v = 0; v < 4; v++) {
        const seen = list.flatMap((ms, at) =>
          spans.some((s) => s.viewer === v && s.from <= ms && ms < s.to) ? [{ from: at * MS, to: (at + 1) * MS }] : [],
        );
        expect(union(seenBy(shown, v))).toEqual(union(seen));
      }
    }
  });

  it("is the same object where nothing is left out", () => {
    const line = new ShownLine({ version: 2, kept: [{ from: 0, to: null }] }, 5_000);
    expect(foldAsShown(NOTHING_FOLDED, line)).toBe(NOTHING_FOLDED);
  });
});
