import { describe, expect, it } from "vitest";
import { embedSize } from "./size";

const WIDE = { width: 1920, height: 1080 };

describe("the size of an embed", () => {
  it("shows the whole picture with what stands under it", () => {
    expect(embedSize(WIDE, 640)).toEqual({ width: 640, height: 360 + 119 });
    expect(embedSize({ width: 1080, height: 1920 }, 400)).toEqual({ width: 400, height: 711 + 119 });
    expect(embedSize(null, 640)).toEqual({ width: 640, height: 200 + 119 });
  });
  it("is never larger than a page allows", () => {
    expect(embedSize(WIDE, 960, { width: 480 })).toEqual({ width: 480, height: 270 + 119 });
    expect(embedSize(WIDE, 960, { height: 400 })).toEqual({ width: 500, height: 400 });
    const both = embedSize(WIDE, 960, { width: 500, height: 300 });
    expect(both.width).toBeLessThanOrEqual(500);
    expect(both.height).toBe(300);
  });
  it("is never too small to be used, whatever a page allows", () => {
    expect(embedSize(WIDE, 10, { width: 1, height: 1 })).toEqual({ width: 280, height: 240 });
  });
});
