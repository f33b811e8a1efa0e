import { describe, expect, it } from "vitest";
import { shrink } from "./shrink";

const small = (width: number, height: number) => ({ data: new Uint8ClampedArray(width * height * 4), width, height });
/** Red goes with the column, green with the row, blue is a checkerboard. */
function picture(width: number, height: number) {
  const stride = width * 4 + 12;
  const data = new Uint8Array(stride * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++)
      data.set([(255 * x) / (width - 1), (255 * y) / (height - 1), (x + y) % 2 ? 255 : 0, 7], y * stride + x * 4);
  return { data, width, height, stride };
}

describe("a small picture", () => {
  it.each([
    [320, 180, 32, 18],
    [1000, 333, 37, 11],
    [40, 40, 40, 40],
  ])("of %d × %d as %d × %d shows what was there", (width, height, wide, high) => {
    const to = small(wide, high);
    shrink(picture(width, height), to);
    for (const [x, y] of [
      [0, 0],
      [wide - 1, high - 1],
      [Math.floor(wide / 3), Math.floor(high / 2)],
    ] as const) {
      const [red, green, , alpha] = to.data.subarray((y * wide + x) * 4, (y * wide + x) * 4 + 4);
      expect(Math.abs(red! - (255 * (x + 0.5)) / wide)).toBeLessThan(255 / wide + 2);
      expect(Math.abs(green! - (255 * (y + 0.5)) / high)).toBeLessThan(255 / high + 2);
      expect(alpha).toBe(255);
    }
  });

  it("is the mean of what it stands for", () => {
    const to = small(10, 10);
    shrink(picture(40, 40), to);
    for (let i = 2; i < to.data.length; i += 4) expect(to.data[i]).toBe(128);
  });

  it("may be larger than what it is made of", () => {
    const to = small(8, 8);
    shrink(picture(3, 3), to);
    expect([to.data[0], to.data[(8 * 8 - 1) * 4]]).toEqual([0, 255]);
  });
});
