import { describe, expect, it } from "vitest";
import { areaOf, AREA_SIZES, cropOf, resized, SMALLEST, wholeAround, withSide } from "./area";

const HD = { width: 1920, height: 1080 };

describe("an area of a surface", () => {
  it("is all of it, made even, where none is chosen", () => {
    expect(cropOf({ width: 1365, height: 767 }, null)).toEqual({ x: 0, y: 0, width: 1364, height: 766 });
    expect(cropOf({ width: 1, height: 1 }, null)).toEqual({ x: 0, y: 0, width: 2, height: 2 });
    expect(areaOf(HD, { x: 0, y: 0, ...HD })).toBeNull();
    expect(areaOf({ width: 1365, height: 767 }, { x: 0, y: 0, width: 1364, height: 766 })).toBeNull();
  });

  it("keeps its pixels through shares", () => {
    const pixels = { x: 100, y: 60, width: 640, height: 480 };
    expect(cropOf(HD, areaOf(HD, pixels))).toEqual(pixels);
  });

  it("is the same part of the surface at another size", () => {
    const area = areaOf(HD, { x: 960, y: 540, width: 480, height: 270 });
    expect(cropOf({ width: 960, height: 540 }, area)).toEqual({ x: 480, y: 270, width: 240, height: 136 });
  });

  it.each([
    ["larger than the surface", { x: -50, y: -50, width: 9_000, height: 500 }, { x: 0, width: 1920, height: 500 }],
    ["beyond its edge", { x: 1900, y: 1070, width: 200, height: 200 }, { x: 1720, y: 880, width: 200 }],
    ["smaller than the smallest", { x: 10, y: 10, width: 1, height: 0 }, SMALLEST],
    ["odd", { x: 11, y: 13, width: 101, height: 203 }, { x: 12, y: 14, width: 102, height: 204 }],
  ])("that is %s is put right", (_, asked, expected) => {
    expect(cropOf(HD, areaOf(HD, asked))).toMatchObject(expected);
  });

  it("is even and inside, whatever surface and frame it is cut out of", () => {
    let seed = 7;
    const random = (most: number) => (seed = (seed * 16_807) % 2_147_483_647) % most;
    for (let i = 0; i < 5_000; i++) {
      const surface = { width: 1 + random(4_000), height: 1 + random(3_000) };
      const asked = { x: random(5_000) - 500, y: random(4_000) - 500, width: random(5_000), height: random(4_000) };
      const frame = { width: 2 + random(2_000), height: 2 + random(2_000) };
      const crop = cropOf(frame, areaOf(surface, asked));
      for (const side of Object.values(crop)) expect(side % 2).toBe(0);
      expect(Math.min(crop.x, crop.y)).toBeGreaterThanOrEqual(0);
      expect(Math.min(crop.width, crop.height)).toBeGreaterThanOrEqual(2);
      expect(crop.x + crop.width).toBeLessThanOrEqual(frame.width);
      expect(crop.y + crop.height).toBeLessThanOrEqual(frame.height);
    }
  });

  it("takes a usual size about its middle, and a typed side with or without the other", () => {
    const area = { x: 400, y: 300, width: 400, height: 200 };
    expect(resized(area, AREA_SIZES[0]!)).toEqual({ x: 280, y: 160, width: 640, height: 480 });
    expect(withSide(area, "width", 600, true)).toMatchObject({ width: 600, height: 300 });
    expect(withSide(area, "height", 50, false)).toMatchObject({ width: 400, height: 50 });
  });

  it("fills a frame when the whole is laid out around it", () => {
    expect(wholeAround({ x: 0.25, y: 0.5, width: 0.5, height: 0.25 })).toEqual({ x: -0.5, y: -2, width: 2, height: 4 });
  });
});
