import { describe, expect, it } from "vitest";
import { firstTake, parseRecipe, withTake } from "./recipe";
import { RecipeError } from "./recipe-error";
import { MOST_TAKES, startOfTake, takeOf, TAKE_SPAN } from "./source-line";

describe("the source line", () => {
  it("has a day for each take, and folds into milliseconds of 32 bits", () => {
    expect([1, 2, 48].map(startOfTake)).toEqual([0, TAKE_SPAN, 47 * TAKE_SPAN]);
    expect([0, TAKE_SPAN - 1, TAKE_SPAN, 47 * TAKE_SPAN + 5].map(takeOf)).toEqual([1, 1, 2, 48]);
    expect((MOST_TAKES * TAKE_SPAN) / 1000).toBeLessThan(2 ** 32);
  });
});

describe("a recipe", () => {
  it("keeps all of a fresh take, and another after it", () => {
    expect(parseRecipe(JSON.parse(JSON.stringify(firstTake())))).toEqual(firstTake());
    const two = withTake(firstTake(), 70_000_000, 2);
    expect(parseRecipe(two).kept).toEqual([
      { from: 0, to: 70_000_000 },
      { from: TAKE_SPAN, to: null },
    ]);
    // Nothing came of the first one.
    expect(withTake(firstTake(), 0, 2).kept).toEqual([{ from: TAKE_SPAN, to: null }]);
  });

  it.each([
    [null, ""],
    [[], ""],
    [{ version: 1 }, "/version"],
    [{ version: 2, kept: [] }, "/kept"],
    [{ version: 2, kept: Array.from({ length: 10_001 }, (_, i) => ({ from: i, to: i + 1 })) }, "/kept"],
    [{ version: 2, kept: ["x"] }, "/kept/0"],
    [{ version: 2, kept: [{ from: 0.5, to: 1 }] }, "/kept/0/from"],
    [{ version: 2, kept: [{ from: 49 * TAKE_SPAN, to: null }] }, "/kept/0/from"],
    [{ version: 2, kept: [{ from: 3, to: 3 }] }, "/kept/0/to"],
    [{ version: 2, kept: [{ from: 3, to: TAKE_SPAN + 1 }] }, "/kept/0/to"],
    [
      {
        version: 2,
        kept: [
          { from: 0, to: null },
          { from: 5, to: 6 },
        ],
      },
      "/kept/0/to",
    ],
    [
      {
        version: 2,
        kept: [
          { from: 5, to: 9 },
          { from: 0, to: 6 },
        ],
      },
      "/kept/0",
    ],
    [
      {
        version: 2,
        kept: [
          { from: 5, to: 9 },
          { from: 0, to: null },
        ],
      },
      "/kept/0",
    ],
  ])("is refused with the place, case %#", (value, path) => {
    expect(() => parseRecipe(value)).toThrow(RecipeError);
    try {
      parseRecipe(value);
    } catch (error) {
      expect((error as RecipeError).path).toBe(path);
    }
  });
});
