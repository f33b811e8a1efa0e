import { describe, expect, it } from "vitest";
import { cropOf } from "./area";
import { isClear, lensArea, readLens, USUAL_LENS } from "./lens";

describe("a lens", () => {
  it("shows all of the picture, or a part of the same shape that lies in it", () => {
    expect(lensArea(USUAL_LENS)).toBeNull();
    expect(lensArea({ zoom: 200, x: 50, y: 50 })).toEqual({ x: 0.25, y: 0.25, width: 0.5, height: 0.5 });
    expect(lensArea({ zoom: 200, x: 0, y: 100 })).toEqual({ x: 0, y: 0.5, width: 0.5, height: 0.5 });
    for (const zoom of [101, 133, 250, 300])
      for (const x of [0, 17, 100]) {
        const { width, height, ...at } = cropOf({ width: 640, height: 360 }, lensArea({ zoom, x, y: 100 - x }));
        expect(at.x + width).toBeLessThanOrEqual(640);
        expect(at.y + height).toBeLessThanOrEqual(360);
        expect(width / height).toBeCloseTo(640 / 360, 1);
      }
  });

  it("is clear while it changes nothing, wherever it looks", () => {
    expect(isClear({ ...USUAL_LENS, x: 0, y: 9 })).toBe(true);
    for (const change of [{ zoom: 101 }, { blurs: true }, { flips: true }])
      expect(isClear({ ...USUAL_LENS, ...change })).toBe(false);
  });

  it.each([null, undefined, 3, "near", {}, { zoom: 99, x: -1, y: 101, blurs: 1, flips: "yes" }, { zoom: 1e9 }])(
    "%j that was kept is the usual one",
    (kept) => expect(readLens(kept)).toEqual(USUAL_LENS),
  );

  it("is read as it was kept", () => {
    const own = { zoom: 150, x: 20, y: 80, blurs: true, flips: true };
    expect(readLens({ ...own, more: 1 })).toEqual(own);
  });
});
