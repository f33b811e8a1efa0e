import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { union } from "../time/ranges";
import { parseRecipe, type Kept } from "./recipe";
import { ShownLine } from "./shown-line";

/** A recipe on a line of 60 moments, its stretches in any order, perhaps open at the end. */
function randomLine(pick: (below: number) => number) {
  const borders = [...new Set(Array.from({ length: 2 + pick(10) }, () => pick(60)))].sort((a, b) => a - b);
  const kept: Kept[] = [];
  for (let i = 0; i + 1 < borders.length; i += 1 + pick(2)) kept.push({ from: borders[i]!, to: borders[i + 1]! });
  if (kept.length === 0) kept.push({ from: 0, to: 5 });
  kept.sort(() => pick(3) - 1);
  const top = Math.max(...kept.map((k) => k.to!));
  if (kept.at(-1)!.to === top && pick(2)) kept[kept.length - 1] = { from: kept.at(-1)!.from, to: null };
  const end = Math.max(kept.at(-1)!.from, 40 + pick(20));
  return { line: new ShownLine(parseRecipe({ version: 2, kept }), end), kept, end };
}

/** Outside check: shown time written out, moment by moment. */
const written = (kept: Kept[], end: number) =>
  kept.flatMap(({ from, to }) => Array.from({ length: Math.max(0, (to ?? end) - from) }, (_, i) => from + i));

describe("the shown line", () => {
  it("maps as a list written out moment by moment does", () => {
    const pick = random(7);
    for (let round = 0; round < 400; round++) {
      const { line, kept, end } = randomLine(pick);
      const list = written(kept, end);
      expect(line.length).toBe(list.length);
      list.forEach((source, shown) => {
        expect(line.toSource(shown)).toBe(source);
        expect(line.toShown(source)).toEqual({ shown, kept: true });
      });
      for (let source = 0; source < 60; source++) {
        const { shown, kept: isKept } = line.toShown(source);
        const isEnd = source === (kept.at(-1)!.to ?? end);
        expect(isKept).toBe(list.includes(source) || isEnd);
        expect(shown).toBeGreaterThanOrEqual(0);
        expect(shown).toBeLessThanOrEqual(line.length);
      }
    }
  });

  it("is total, and goes round", () => {
    const pick = random(11);
    for (let round = 0; round < 300; round++) {
      const { line } = randomLine(pick);
      for (const shown of [-5, 0, line.length - 1, line.length, line.length + 9]) {
        const within = Math.min(Math.max(0, shown), line.length);
        const place = line.toShown(line.toSource(shown));
        if (within < line.length) expect(place).toEqual({ shown: within, kept: true });
      }
    }
  });

  it("never goes back where the stretches stand in the order of the source", () => {
    const pick = random(3);
    for (let round = 0; round < 200; round++) {
      const { kept, end } = randomLine(pick);
      const sorted = [...kept].sort((a, b) => a.from - b.from);
      if (sorted.some((k, i) => k.to === null && i < sorted.length - 1)) continue;
      const line = new ShownLine({ version: 2, kept: sorted }, end);
      const places = Array.from({ length: 60 }, (_, source) => line.toShown(source).shown);
      expect(places).toEqual([...places].sort((a, b) => a - b));
    }
  });

  it("maps stretches as their moments are mapped", () => {
    const pick = random(5);
    const moments = (ranges: { from: number; to: number }[]) =>
      ranges.flatMap(({ from, to }) => Array.from({ length: to - from }, (_, i) => from + i));
    for (let round = 0; round < 400; round++) {
      const { line, kept, end } = randomLine(pick);
      const list = written(kept, end);
      const from = pick(60);
      const to = from + pick(60 - from);
      expect(moments(line.toSourceRanges({ from, to }))).toEqual(list.slice(from, to));
      const shown = list.flatMap((source, at) => (source >= from && source < to ? [at] : []));
      expect(moments([...union(line.toShownRanges({ from, to }))])).toEqual(shown);
    }
  });

  it("asks a handful of ten thousand stretches", () => {
    const kept = Array.from({ length: 10_000 }, (_, i) => ({ from: i * 10, to: i * 10 + 5 }));
    const line = new ShownLine(parseRecipe({ version: 2, kept }), 0);
    let looks = 0;
    const counted = new Proxy(line.kept, {
      get: (target, key) => {
        if (typeof key === "string" && /^\d+$/.test(key)) looks++;
        return Reflect.get(target, key) as unknown;
      },
    });
    Object.defineProperty(line, "kept", { value: counted });
    expect(line.toShown(55_503)).toEqual({ shown: 27_753, kept: true });
    expect(line.toSource(27_753)).toBe(55_503);
    expect(looks).toBeLessThan(40);
  });

  it("is the line itself for all of one take", () => {
    const line = new ShownLine({ version: 2, kept: [{ from: 0, to: null }] }, 500);
    expect([line.isIdentity, line.length]).toEqual([true, 500]);
    expect(line.toShown(500)).toEqual({ shown: 500, kept: true });
    expect(line.toShownRanges({ from: 490, to: 510 })).toEqual([{ from: 490, to: 500 }]);
    expect(new ShownLine({ version: 2, kept: [{ from: 5, to: null }] }, 500).isIdentity).toBe(false);
    // What is closed leaves out whatever comes after it.
    expect(new ShownLine({ version: 2, kept: [{ from: 0, to: 500 }] }, 500).isIdentity).toBe(false);
  });
});
