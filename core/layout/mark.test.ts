import { describe, expect, it } from "vitest";
import { marksAsShown } from "../recipe/as-shown";
import { ShownLine } from "../recipe/shown-line";
import { startOfTake } from "../recipe/source-line";
import {
  COLOUR_OF,
  endOf,
  inTake,
  MARK_COLOURS,
  marksAt,
  MOST_POINTS,
  nextNumber,
  OUTLINE,
  thinned,
  type Mark,
} from "./mark";

const SECOND = 1_000_000;
/** A line of a second, a point every 100 ms. */
const line = (change: Partial<Mark> = {}): Mark => ({
  tool: "pen",
  colour: "clay",
  path: Array.from({ length: 11 }, (_, i) => [i / 10, 0.5, 100 * i]).flat(),
  text: "",
  staysMs: null,
  clearedAt: null,
  ...change,
});

describe("a mark", () => {
  it("stays until it is cleared, or so long after its last point, whichever is first", () => {
    expect(endOf(5 * SECOND, line())).toBe(Infinity);
    expect(endOf(5 * SECOND, line({ staysMs: 3_000 }))).toBe(9 * SECOND);
    expect(endOf(5 * SECOND, line({ staysMs: 3_000, clearedAt: 7 * SECOND }))).toBe(7 * SECOND);
    expect(endOf(5 * SECOND, line({ staysMs: 3_000, clearedAt: 70 * SECOND }))).toBe(9 * SECOND);
  });

  it("is seen as it was drawn: nothing before, point by point, whole, fading, gone", () => {
    const marks = [inTake("a", 5 * SECOND, line({ staysMs: 3_000 }))];
    const points = (at: number) => marksAt(marks, at).map(({ mark }) => mark.path.length / 3);
    expect(points(4_999_999)).toEqual([]);
    expect([5, 5.05, 5.55, 6, 8.9].map((s) => points(s * SECOND)[0])).toEqual([1, 1, 6, 11, 11]);
    expect(marksAt(marks, 8.4 * SECOND)[0]!.opacity).toBe(1);
    expect(marksAt(marks, 8.75 * SECOND)[0]!.opacity).toBeCloseTo(0.5, 6);
    expect(points(9 * SECOND)).toEqual([]);
    // What is cleared is gone at once, and not before.
    const cleared = [inTake("a", 5 * SECOND, line({ clearedAt: 7 * SECOND }))];
    expect(marksAt(cleared, 7 * SECOND - 1)[0]!.opacity).toBe(1);
    expect(marksAt(cleared, 7 * SECOND)).toEqual([]);
  });

  it("keeps its ends when it has too many points, and never goes back in time", () => {
    const long = Array.from({ length: 5_000 }, (_, i) => [i / 5_000, 0.5, i]).flat();
    const path = thinned(long);
    expect(path.length / 3).toBeLessThanOrEqual(MOST_POINTS);
    expect(path.length / 3).toBeGreaterThan(MOST_POINTS / 2 - 1);
    expect([path.slice(0, 3), path.slice(-3)]).toEqual([long.slice(0, 3), long.slice(-3)]);
    const times = path.filter((_, i) => i % 3 === 2);
    expect(times).toEqual([...times].sort((a, b) => a - b));
    expect(thinned(line().path)).toEqual(line().path);
  });

  it("has the number after the highest that is there", () => {
    const number = (text: string) => line({ tool: "number", text });
    expect(nextNumber([])).toBe("1");
    expect(nextNumber([number("1"), number("3"), line({ tool: "text", text: "9" })])).toBe("4");
  });
});

describe("marks as shown", () => {
  const second = startOfTake(2);
  const shown = new ShownLine(
    {
      version: 2,
      kept: [
        { from: second, to: second + 10 * SECOND },
        { from: 2 * SECOND, to: 6 * SECOND },
        { from: 8 * SECOND, to: 10 * SECOND },
      ],
    },
    Infinity,
  );
  it("are seen where their take is kept, go on after what is left out, and end with their take", () => {
    const marks = [
      { id: "stays", position: 1, at: 5 * SECOND, mark: line() },
      { id: "fades", position: 1, at: 6.5 * SECOND, mark: line({ staysMs: 0 }) },
      { id: "other", position: 2, at: 9 * SECOND, mark: line() },
      { id: "cleared", position: 1, at: SECOND, mark: line({ clearedAt: 3 * SECOND }) },
    ];
    expect(marksAsShown(shown, marks).map(({ id, began, from, to }) => [id, began, from, to])).toEqual([
      ["other", 9 * SECOND, 9 * SECOND, 10 * SECOND],
      ["cleared", 10 * SECOND, 10 * SECOND, 11 * SECOND],
      ["stays", 13 * SECOND, 13 * SECOND, 14 * SECOND],
      // Drawn for a second by then.
      ["stays", 13 * SECOND, 14 * SECOND, 16 * SECOND],
    ]);
  });

  it("stay to the end of a take that still grows", () => {
    const grows = new ShownLine({ version: 2, kept: [{ from: 0, to: null }] }, Infinity);
    const [mark] = marksAsShown(grows, [{ id: "a", position: 1, at: SECOND, mark: line() }]);
    expect(mark!.from).toBe(SECOND);
    expect(marksAt([mark!], 3_000 * SECOND)).toHaveLength(1);
  });
});

/** sRGB to linear light: IEC 61966-2-1. */
const linear = (hex: string) =>
  [1, 3, 5].map((i) => {
    const v = parseInt(hex.slice(i, i + 2), 16) / 255;
    return v <= 0.04045 ? v / 12.92 : ((v + 0.055) / 1.055) ** 2.4;
  });
/** Full dichromacy after Machado, Oliveira and Fernandes, 2009; from memory. */
const EYES = {
  usual: [1, 0, 0, 0, 1, 0, 0, 0, 1],
  protan: [0.152286, 1.052583, -0.204868, 0.114503, 0.786281, 0.099216, -0.003882, -0.048116, 1.051998],
  deutan: [0.367322, 0.860646, -0.227968, 0.280085, 0.672501, 0.047413, -0.01182, 0.04294, 0.968881],
  tritan: [1.255528, -0.076749, -0.178779, -0.078411, 0.930809, 0.147602, 0.004733, 0.691367, 0.3039],
};
/** Relative luminance (WCAG 2) as these eyes see it. */
function luminance(hex: string, m: readonly number[]): number {
  const [r, g, b] = linear(hex) as [number, number, number];
  const seen = [0, 3, 6].map((i) => Math.max(0, m[i]! * r + m[i + 1]! * g + m[i + 2]! * b));
  return 0.2126 * seen[0]! + 0.7152 * seen[1]! + 0.0722 * seen[2]!;
}
const contrast = (a: number, b: number) => (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);

describe("colours of marks", () => {
  it.each(Object.entries(EYES))("are told apart by lightness alone, by %s eyes", (_, m) => {
    const lights = MARK_COLOURS.map((colour) => luminance(COLOUR_OF[colour], m)).sort((a, b) => a - b);
    for (let i = 1; i < lights.length; i++) expect(contrast(lights[i]!, lights[i - 1]!)).toBeGreaterThan(1.4);
  });

  it("have an outline that shows on any picture: at least 3 to 1, as WCAG 2 asks of graphics (1.4.11)", () => {
    for (let grey = 0; grey < 256; grey++) {
      const ground = luminance(`#${grey.toString(16).padStart(2, "0").repeat(3)}`, EYES.usual);
      const best = Object.values(OUTLINE).map((hex) => contrast(luminance(hex, EYES.usual), ground));
      expect(Math.max(...best)).toBeGreaterThan(3);
    }
  });
});
