import { describe, expect, it } from "vitest";
import { isAlike, within } from "./fit";

describe("fitting a picture into the size its track began with", () => {
  it.each([
    [{ width: 1920, height: 1080 }, { width: 1280, height: 720 }, true],
    [{ width: 1365, height: 767 }, { width: 1364, height: 766 }, true],
    [{ width: 1920, height: 1080 }, { width: 1920, height: 1200 }, false],
    [{ width: 1080, height: 1920 }, { width: 1920, height: 1080 }, false],
  ])("%o and %o are of one shape: %s", (a, b, alike) => expect(isAlike(a, b)).toBe(alike));

  it("keeps the whole of a picture of another shape, about the middle", () => {
    expect(within({ width: 1000, height: 1000 }, { width: 1920, height: 1080 })).toEqual({
      x: 420,
      y: 0,
      width: 1080,
      height: 1080,
    });
    expect(within({ width: 3000, height: 300 }, { width: 1280, height: 720 })).toEqual({
      x: 0,
      y: 296,
      width: 1280,
      height: 128,
    });
  });
});
