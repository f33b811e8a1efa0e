import { describe, expect, it } from "vitest";
import { besideRects, coverCrop, insetRect, nearestPlace, nextCorner, nextScene, PLACES, SIZES } from "./layout";

describe("inset layout", () => {
  it("matches figures worked out by hand for 1920 × 1080", () => {
    // Margin 0.03 × 1080 = 32.4. Medium: 0.19 × 1080 × 16/9 = 364.8 wide, × 1.15 = 419.52 high.
    expect(insetRect({ width: 1920, height: 1080 }, { place: "bottom-right", size: "medium" })).toEqual({
      x: expect.closeTo(1522.8, 6),
      y: expect.closeTo(628.08, 6),
      width: expect.closeTo(364.8, 6),
      height: expect.closeTo(419.52, 6),
    });
    // Small: 0.13 × 1920 = 249.6 wide, 287.04 high, in the top left corner.
    expect(insetRect({ width: 1920, height: 1080 }, { place: "top-left", size: "small" })).toEqual({
      x: expect.closeTo(32.4, 6),
      y: expect.closeTo(32.4, 6),
      width: expect.closeTo(249.6, 6),
      height: expect.closeTo(287.04, 6),
    });
  });

  it("stays inside frames of any shape, and grows with each step", () => {
    for (const frame of [
      { width: 640, height: 480 },
      { width: 390, height: 844 },
      { width: 3840, height: 1080 },
      { width: 10, height: 2000 },
    ]) {
      for (const place of PLACES) {
        const rects = SIZES.map((size) => insetRect(frame, { place, size }));
        for (const r of rects) {
          expect(r.x >= 0 && r.y >= 0 && r.x + r.width <= frame.width && r.y + r.height <= frame.height).toBe(true);
          expect(r.width).toBeGreaterThan(0);
        }
        expect(rects[0]!.width).toBeLessThanOrEqual(rects[1]!.width);
        expect(rects[1]!.width).toBeLessThanOrEqual(rects[2]!.width);
      }
    }
  });

  it("lies in the middle of what it does not touch the edge of", () => {
    const frame = { width: 1920, height: 1080 };
    const { x, y, width, height } = insetRect(frame, { place: "middle", size: "small" });
    expect([x + width / 2, y + height / 2]).toEqual([expect.closeTo(960, 6), expect.closeTo(540, 6)]);
    const left = insetRect(frame, { place: "left", size: "small" });
    expect([left.x, left.y]).toEqual([expect.closeTo(32.4, 6), expect.closeTo(y, 6)]);
  });

  it("drops into the nearest place of the grid, also from outside", () => {
    const frame = { width: 90, height: 60 };
    const at = PLACES.map((_, i) => nearestPlace(frame, 15 + 30 * (i % 3), 10 + 20 * Math.floor(i / 3)));
    expect(at).toEqual(PLACES);
    expect([nearestPlace(frame, -50, 30), nearestPlace(frame, 45, 900)]).toEqual(["left", "bottom"]);
  });

  it("goes around the corners, and through the scenes", () => {
    const around = [0, 1, 2, 3].reduce((all) => [...all, nextCorner(all.at(-1)!)], [nextCorner("middle")]);
    expect(around).toEqual(["bottom-right", "bottom-left", "top-left", "top-right", "bottom-right"]);
    expect(nextScene(nextScene(nextScene(nextScene("inset"))))).toBe("inset");
  });

  it("puts screen and camera beside each other: neither covers the other, the screen keeps its shape", () => {
    for (const frame of [
      { width: 1920, height: 1080 },
      { width: 390, height: 844 },
      { width: 3840, height: 1080 },
    ])
      for (const place of PLACES)
        for (const size of SIZES) {
          const { screen, camera } = besideRects(frame, { place, size });
          expect(screen.width / screen.height).toBeCloseTo(frame.width / frame.height, 9);
          const [left, right] = place.endsWith("left") ? [camera, screen] : [screen, camera];
          expect(left.x).toBeGreaterThan(0);
          expect(right.x).toBeGreaterThan(left.x + left.width);
          expect(right.x + right.width).toBeLessThan(frame.width);
          for (const { y, height } of [screen, camera]) {
            expect(y).toBeGreaterThan(0);
            expect(y + height / 2).toBeCloseTo(frame.height / 2, 6);
          }
        }
  });

  it("crops like object-fit: cover", () => {
    // 640 × 480 into a shape of 1 : 1.2 keeps the full height: 400 × 480, 120 from the left.
    expect(coverCrop({ width: 640, height: 480 }, { width: 100, height: 120 })).toEqual({
      x: 120,
      y: 0,
      width: 400,
      height: 480,
    });
    expect(coverCrop({ width: 100, height: 400 }, { width: 50, height: 50 })).toEqual({
      x: 0,
      y: 150,
      width: 100,
      height: 100,
    });
  });
});
