import { describe, expect, it } from "vitest";
import { MOST_LINES, moved, plannedSeconds, readPrompts, USUAL_PROMPTS, wordsIn } from "./prompts";

const lines = ["a", "b", "c", "d"].map((id) => ({ id, text: id.toUpperCase() }));
const order = (list: { id: string }[]) => list.map(({ id }) => id).join("");

describe("talking points", () => {
  it.each([
    ["a", "c", "bcad"],
    ["d", "a", "dabc"],
    ["b", "b", "abcd"],
    ["x", "a", "abcd"],
    ["a", "x", "abcd"],
  ])("%s dropped at %s: %s", (id, at, expected) => expect(order(moved(lines, id, at))).toBe(expected));
});

describe("a script", () => {
  it("takes as long as its words at a speed", () => {
    expect(wordsIn("  The panes,\nof the north  slope. ")).toBe(6);
    expect(plannedSeconds({ script: "one ".repeat(260), speed: 130 })).toBe(120);
    expect(plannedSeconds({ script: "", speed: 130 })).toBe(0);
  });
});

describe("prompts that were kept", () => {
  it("are read as they were", () => {
    const own = { ...USUAL_PROMPTS, points: lines, script: "Hello", size: "large" as const, speed: 90 as const };
    expect(readPrompts(JSON.parse(JSON.stringify(own)))).toEqual(own);
  });

  it("are as usual where they are not known, and bounded", () => {
    for (const kept of [null, 7, "x", { speed: 1, size: "vast", points: "a", tidy: null, script: 4 }])
      expect(readPrompts(kept)).toEqual(USUAL_PROMPTS);
    const many = Array.from({ length: 100 }, (_, i) => ({ id: `${i}`, text: "t".repeat(900) }));
    const read = readPrompts({ points: [null, { id: 1 }, ...many], script: "s".repeat(50_000) });
    expect([read.points.length, read.points[0]!.text.length, read.script.length]).toEqual([MOST_LINES, 160, 20_000]);
  });
});
