import { describe, expect, it } from "vitest";
import { fold, NOTHING_FOLDED } from "../core/viewing/fold";
import { recordingFigures } from "../core/viewing/figures";
import type { Habit } from "./scenario";
import { seeded, watchedBy } from "./viewing";

const S = 1_000_000;
const length = 100 * S;
const hard = { from: 40 * S, to: 60 * S };

function figuresOf(habits: Habit[]) {
  const random = seeded(3);
  const rows = habits.flatMap((habit, v) => watchedBy(habit, length, hard, random).map((s) => ({ v, ...s })));
  const column = (of: (r: (typeof rows)[number]) => number) => Uint32Array.from(rows, of);
  return recordingFigures(
    fold(
      NOTHING_FOLDED,
      { viewer: column((r) => r.v), from: column((r) => r.from / 1000), to: column((r) => r.to / 1000) },
      habits.length,
    ),
    length,
  );
}

describe("how people of the sample watch", () => {
  it("a hard part is played again there, and nowhere else", () => {
    const { curve, moments } = figuresOf(["twice-the-hard-part", "twice-the-hard-part", "whole"]);
    expect(moments.find((m) => m.kind === "again")!.at).toBeGreaterThanOrEqual(hard.from);
    for (const p of curve) if (p.at < hard.from || p.at > hard.to) expect(p.again).toBe(0);
  });

  it("an opening that is skipped shows as a dip", () => {
    const { curve } = figuresOf(["skips-the-opening", "skips-the-opening", "skips-the-opening"]);
    expect(curve.find((p) => p.at > 20 * S)!.there).toBe(0);
    expect(curve.find((p) => p.at > 50 * S)!.there).toBe(1);
  });

  it("a glance is no view, and everything lies within the length", () => {
    expect(figuresOf(["glances"]).watched).toBe(0);
    for (const habit of ["whole", "fast", "leaves-early", "leaves-in-the-middle", "dips-in"] as const) {
      for (const s of watchedBy(habit, length, null, seeded(9)))
        expect(s.from >= 0 && s.to <= length && s.to > s.from).toBe(true);
    }
  });
});
