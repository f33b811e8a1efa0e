import { describe, expect, it } from "vitest";
import { brighterOf, faceLines } from "./face";

/** A grey picture of 64 × 36 with another grey in a rectangle of it. */
function picture(ground: number, inner: number, rect: { x: number; y: number; width: number; height: number }) {
  const pixels = new Uint8ClampedArray(64 * 36 * 4);
  for (let row = 0; row < 36; row++)
    for (let column = 0; column < 64; column++) {
      const [x, y] = [(column + 0.5) / 64, (row + 0.5) / 36];
      const isIn = x >= rect.x && x <= rect.x + rect.width && y >= rect.y && y <= rect.y + rect.height;
      pixels.fill(isIn ? inner : ground, 4 * (row * 64 + column), 4 * (row * 64 + column) + 3);
    }
  return pixels;
}
const FACE = { x: 0.4, y: 0.2, width: 0.2, height: 0.4 };
const good = { face: FACE, brighter: 0.2 };
const verdicts = (figures: Parameters<typeof faceLines>[0]) => faceLines(figures).map((l) => [l.name, l.verdict]);

describe("a face in its light", () => {
  it("is told from what is around it, brighter and darker", () => {
    expect(brighterOf(picture(51, 204, FACE), 64, FACE)).toBeCloseTo(0.6, 2);
    expect(brighterOf(picture(204, 51, FACE), 64, FACE)).toBeCloseTo(-0.6, 2);
    expect(brighterOf(picture(99, 99, FACE), 64, FACE)).toBeCloseTo(0, 9);
  });

  it("is compared with its surroundings alone, not with what is far away or below it", () => {
    const pixels = picture(51, 204, FACE);
    for (let row = 24; row < 36; row++) pixels.fill(255, 4 * 64 * row, 4 * 64 * (row + 1));
    expect(brighterOf(pixels, 64, FACE)).toBeCloseTo(0.6, 2);
  });

  it("is nothing to compare where it fills the picture, or lies outside of it", () => {
    for (const face of [
      { x: -1, y: -1, width: 3, height: 3 },
      { x: 2, y: 2, width: 0.1, height: 0.1 },
    ])
      expect(brighterOf(picture(99, 200, FACE), 64, face)).toBe(0);
  });
});

describe("verdicts on a face", () => {
  it("waits for a picture, and asks for a face where there is none", () => {
    expect(verdicts(null)).toEqual([["Framing", "waiting"]]);
    expect(verdicts({ face: null, brighter: 0 })).toEqual([["Framing", "fair"]]);
  });

  it.each([
    ["in its place", {}, "good", null],
    ["cut off at the top", { y: -0.05 }, "bad", /cut off/],
    ["cut off at the side", { x: 0.9 }, "bad", /cut off/],
    ["very near", { y: 0.1, height: 0.7 }, "fair", /back/],
    ["small", { height: 0.1 }, "fair", /closer/],
    ["without headroom", { y: 0.02 }, "fair", /no room above/],
    ["low", { y: 0.5 }, "fair", /much room above/],
    ["at the side", { x: 0.02 }, "fair", /at the side/],
  ] as const)("framing: %s", (_, change, verdict, mend) => {
    const [line] = faceLines({ ...good, face: { ...FACE, ...change } });
    expect([line!.name, line!.verdict]).toEqual(["Framing", verdict]);
    if (mend) expect(line!.mend).toMatch(mend);
    else expect(line!.mend).toBeNull();
  });

  it.each([
    [0.2, "good"],
    [-0.1, "good"],
    [-0.3, "fair"],
    [0.01, "fair"],
    [-0.01, "fair"],
  ] as const)("contrast: %d brighter is %s", (brighter, verdict) => {
    const line = faceLines({ face: FACE, brighter })[1]!;
    expect([line.name, line.verdict, line.mend === null]).toEqual(["Contrast", verdict, verdict === "good"]);
  });
});
