import { describe, expect, it } from "vitest";
import { keptOf, parseRecipe, RecipeError, toShown, toSource, wholeTake, type Recipe } from "./recipe";

const two: Recipe = {
  version: 1,
  kept: [
    { take: "a", from: 10, to: 20 },
    { take: "b", from: 0, to: 7 },
    { take: "a", from: 25, to: null },
  ],
};

describe("recipe", () => {
  it("maps time as a list written out moment by moment does", () => {
    // Outside check: shown time as an explicit list of (take, source) pairs, one a microsecond.
    const list: [string, number][] = [];
    for (const k of two.kept) for (let t = k.from; t < (k.to ?? 60); t++) list.push([k.take, t]);
    list.forEach(([take, source], shown) => {
      expect(toSource(two, shown)).toEqual({ take, source });
      expect(toShown(two, take, source)).toBe(shown);
    });
    for (const hidden of [0, 9, 20, 24]) expect(toShown(two, "a", hidden)).toBeNull();
    expect(toShown(two, "b", 7)).toBeNull();
    expect(toSource({ version: 1, kept: [{ take: "a", from: 0, to: 5 }] }, 5)).toBeNull();
  });

  it("keeps all of a fresh take", () => {
    const recipe = wholeTake("t");
    expect(parseRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
    expect(keptOf(recipe, "t", 99)).toEqual([{ from: 0, to: 99 }]);
    expect(keptOf(two, "a", 40)).toEqual([
      { from: 10, to: 20 },
      { from: 25, to: 40 },
    ]);
  });

  it.each([
    [null, ""],
    [[], ""],
    [{ version: 2 }, "/version"],
    [{ version: 1, kept: [] }, "/kept"],
    [{ version: 1, kept: ["x"] }, "/kept/0"],
    [{ version: 1, kept: [{ take: "", from: 0, to: 1 }] }, "/kept/0/take"],
    [{ version: 1, kept: [{ take: "a", from: 0.5, to: 1 }] }, "/kept/0/from"],
    [{ version: 1, kept: [{ take: "a", from: 3, to: 3 }] }, "/kept/0/to"],
    [
      {
        version: 1,
        kept: [
          { take: "a", from: 0, to: null },
          { take: "a", from: 0, to: 1 },
        ],
      },
      "/kept/0/to",
    ],
  ])("refuses %j and names the place", (value, path) => {
    expect(() => parseRecipe(value)).toThrow(RecipeError);
    try {
      parseRecipe(value);
    } catch (error) {
      expect((error as RecipeError).path).toBe(path);
    }
  });
});
