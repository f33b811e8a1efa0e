import { describe, expect, it } from "vitest";
import { random } from "../../testing/random";
import { blurBehind, mirror, type Alpha, type Plane } from "./planes";

const WHOLE = { x: 0, y: 0, width: 1, height: 1 };
/** Noise, with some bytes between the rows. */
function noise(width: number, height: number, parts = 1): Plane {
  const pick = random(8);
  const stride = width * parts + 5;
  return { data: Uint8Array.from({ length: stride * height }, () => pick(256)), width, height, stride, parts };
}
const at = ({ data, stride, parts }: Plane, x: number, y: number, part = 0) => data[y * stride + x * parts + part]!;
const copyOf = (plane: Plane): Plane => ({ ...plane, data: plane.data.slice() });
/** How much neighbours differ in a part of a plane. */
function roughness(plane: Plane, from: number, to: number): number {
  let sum = 0;
  for (let y = 0; y < plane.height; y++)
    for (let x = from + 1; x < to; x++) sum += Math.abs(at(plane, x, y) - at(plane, x - 1, y));
  return sum / plane.height / (to - from - 1);
}
/** Somebody in the left half of the picture. */
const LEFT: Alpha = {
  data: Uint8Array.from({ length: 8 * 4 * 4 }, (_, i) => (i % 4 === 3 && Math.floor(i / 4) % 8 < 4 ? 255 : 0)),
  width: 8,
  height: 4,
  step: 4,
  first: 3,
};

describe("a plane of a picture", () => {
  it.each([1, 2, 4])("is mirrored sample by sample, of %d parts", (parts) => {
    const plane = noise(7, 3, parts);
    const before = copyOf(plane);
    mirror(plane);
    for (let y = 0; y < 3; y++)
      for (let x = 0; x < 7; x++)
        for (let part = 0; part < parts; part++) expect(at(plane, x, y, part)).toBe(at(before, 6 - x, y, part));
    expect(plane.data.slice(7 * parts, plane.stride)).toEqual(before.data.slice(7 * parts, before.stride));
    mirror(plane);
    expect(plane.data).toEqual(before.data);
  });

  it("is blurred all over where nobody is known to be in it, and stays as bright as it was", () => {
    const plane = noise(320, 180);
    const before = copyOf(plane);
    blurBehind(plane, null, WHOLE);
    expect(roughness(before, 0, 320)).toBeGreaterThan(60);
    expect(roughness(plane, 0, 320)).toBeLessThan(3);
    const mean = ({ data, stride }: Plane) =>
      data.filter((_, i) => i % stride < 320).reduce((sum, v) => sum + v, 0) / (320 * 180);
    expect(Math.abs(mean(plane) - mean(before))).toBeLessThan(1);
  });

  it("is left as it is where somebody is", () => {
    const plane = noise(320, 180);
    const before = copyOf(plane);
    blurBehind(plane, LEFT, WHOLE);
    for (let y = 0; y < 180; y++) for (let x = 0; x < 130; x++) expect(at(plane, x, y)).toBe(at(before, x, y));
    expect(roughness(plane, 200, 320)).toBeLessThan(3);
  });

  it("is a part of a picture: somebody stands where they stand in all of it", () => {
    const plane = noise(320, 180);
    const before = copyOf(plane);
    // The right half of it: nobody.
    blurBehind(plane, LEFT, { x: 0.75, y: 0, width: 0.25, height: 1 });
    expect(roughness(plane, 0, 320)).toBeLessThan(3);
    const middle = copyOf(before);
    blurBehind(middle, LEFT, { x: 0.25, y: 0.25, width: 0.5, height: 0.5 });
    expect(at(middle, 10, 90)).toBe(at(before, 10, 90));
    expect(roughness(middle, 230, 320)).toBeLessThan(3);
  });

  it("keeps its parts apart", () => {
    const plane = noise(64, 32, 2);
    for (let i = 0; i < 64 * 32; i++) plane.data[Math.floor(i / 64) * plane.stride + (i % 64) * 2] = 40;
    blurBehind(plane, null, WHOLE);
    for (let y = 0; y < 32; y++) for (let x = 0; x < 64; x++) expect(at(plane, x, y)).toBe(40);
  });
});
