import { describe, expect, it } from "vitest";
import { correct, IN_STEP, MAX_NUDGE } from "./correction";

describe("layer correction", () => {
  it("leaves a layer alone that is in step", () => {
    expect(correct(0, 1)).toEqual({ kind: "rate", rate: 1 });
    expect(correct(IN_STEP, 2)).toEqual({ kind: "rate", rate: 2 });
  });

  it("slows a layer that is ahead and hurries one that is behind", () => {
    expect(correct(0.03, 1)).toEqual({ kind: "rate", rate: expect.closeTo(0.91, 5) });
    expect(correct(-0.03, 1)).toEqual({ kind: "rate", rate: expect.closeTo(1.09, 5) });
  });

  it("never nudges past its limit; far ahead it waits, far behind all are aligned anew", () => {
    expect(correct(-0.5, 1)).toEqual({ kind: "rate", rate: 1 + MAX_NUDGE });
    expect(correct(0.31, 1)).toEqual({ kind: "wait" });
    expect(correct(0.31, 2)).toEqual({ kind: "rate", rate: 2 * (1 - MAX_NUDGE) });
    expect(correct(-0.81, 1)).toEqual({ kind: "align" });
  });

  it.each([0.5, 1, 2, 2.5])("brings a layer into step at %dx without ever overshooting", (speed) => {
    // Simulated in steps of 50 ms, as the controller runs.
    let drift = 0.2;
    for (let step = 0; step < 400; step++) {
      const todo = correct(drift, speed);
      if (todo.kind !== "rate") throw new Error(todo.kind);
      const next = drift + (todo.rate - speed) * 0.05;
      expect(next).toBeLessThanOrEqual(drift + 1e-9);
      expect(next).toBeGreaterThan(-IN_STEP);
      drift = next;
    }
    expect(Math.abs(drift)).toBeLessThanOrEqual(0.04);
  });
});
