import { describe, expect, it } from "vitest";
import { currentThread } from "../answers/CommentsPane";
import { reactionMarks } from "./lanes";

const S = 1_000_000;

describe("the lanes of the timeline", () => {
  it("gather reactions of one kind that stand close together, and no others", () => {
    const at = (kind: "smile" | "thanks", s: number) => ({ kind, at: s * S });
    const marks = reactionMarks(
      [at("smile", 10), at("smile", 11), at("thanks", 10.5), at("smile", 30), at("smile", 12)],
      100 * S,
    );
    expect(marks.map((m) => [m.label, m.at / S])).toEqual([
      ["3 times Smile", 10],
      ["Thanks", 10.5],
      ["Smile", 30],
    ]);
    expect(reactionMarks([], 0)).toEqual([]);
  });

  it("light up the thread that belongs to the moment", () => {
    const roots = [
      { id: "a", at: 5 * S, until: null },
      { id: "b", at: 8 * S, until: 30 * S },
    ];
    expect([0, 5, 7.9, 8, 12, 29, 30].map((s) => currentThread(roots, s * S))).toEqual([
      null,
      "a",
      "a",
      "b",
      "b",
      "b",
      null,
    ]);
  });
});
