import { describe, expect, it } from "vitest";
import { CORNERS, coverCrop, insetRect, nearestCorner, SIZES } from "./layout";

describe("inset layout", () => {
  it("matches figures worked out by hand for 1920 × 1080", () => {
    // Margin 0.03 × 1080 = 32.4. Medium: 0.19 × 1080 × 16/9 = 364.8 wide, × 1.15 = 419.52 high.
    expect(insetRect({ width: 1920, height: 1080 }, { corner: "bottom-right", size: "medium" })).toEqual({
      x: expect.closeTo(1522.8, 6),
      y: expect.closeTo(628.08, 6),
      width: expect.closeTo(364.8, 6),
      height: expect.closeTo(419.52, 6),
    });
    // Small: 0.13 × 1920 = 249.6 wide, 287.04 high, in the top left corner.
    expect(insetRect({ width: 1920, height: 1080 }, { corner: "top-left", size: "small" })).toEqual({
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
      for (const corner of CORNERS) {
        const rects = SIZES.map((size) => insetRect(frame, { corner, size }));
        for (const r of rects) {
          expect(r.x >= 0 && r.y >= 0 && r.x + r.width <= frame.width && r.y + r.height <= frame.height).toBe(true);
          expect(r.width).toBeGreaterThan(0);
        }
        expect(rects[0]!.width).toBeLessThanOrEqual(rects[1]!.width);
        expect(rects[1]!.width).toBeLessThanOrEqual(rects[2]!.width);
      }
    }
  });

  it("drops into the nearest corner", () => {
    const frame = { width: 100, height: 60 };
    expect(
      [
        [1, 1],
        [99, 1],
        [1, 59],
        [99, 59],
      ].map(([x, y]) => nearestCorner(frame, x!, y!)),
    ).toEqual(["top-left", "top-right", "bottom-left", "bottom-right"]);
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
