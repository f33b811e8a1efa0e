import { describe, expect, it } from "vitest";
import { firstTake, inOrderOf, parseRecipe, RecipeError, withTake } from "./recipe";
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

describe("the takes of a recipe in another order", () => {
  const S = 1_000_000;
  const at = (take: number, from: number, to: number) => ({
    from: startOfTake(take) + from * S,
    to: startOfTake(take) + to * S,
  });

  it("keep their stretches, and are told how much later each is shown", () => {
    const recipe = { version: 2 as const, kept: [at(1, 0, 6), at(2, 0, 4), { from: startOfTake(3), to: null }] };
    const { recipe: next, moves, length } = inOrderOf(recipe, startOfTake(3) + 2 * S, [3, 1, 2]);
    expect(parseRecipe(next)).toEqual({ version: 2, kept: [at(3, 0, 2), at(1, 0, 6), at(2, 0, 4)] });
    expect(moves).toEqual([
      { place: 1, later: 2 * S },
      { place: 2, later: 2 * S },
      { place: 0, later: -10 * S },
    ]);
    expect(length).toBe(12 * S);
  });

  it("keep the order within a take, whatever lies between", () => {
    const recipe = { version: 2 as const, kept: [at(1, 5, 6), at(2, 0, 4), at(1, 0, 1)] };
    expect(inOrderOf(recipe, 0, [2, 1]).recipe.kept).toEqual([at(2, 0, 4), at(1, 5, 6), at(1, 0, 1)]);
  });

  it.each([[[]], [[1]], [[1, 1]], [[1, 3]], [[1, 2, 3]]])("are not %j where two others are shown", (takes) => {
    const recipe = { version: 2 as const, kept: [at(1, 0, 6), at(2, 0, 4)] };
    expect(() => inOrderOf(recipe, 0, takes)).toThrow(RangeError);
  });
});
