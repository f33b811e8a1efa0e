import { expect, it } from "vitest";
import { mixIn, onBothSides, slowlyTo } from "./mixing";

it("adds sounds, evenly from one factor to another, and mono on both sides", () => {
  const heard = { samples: Float32Array.of(1, -1, 1, -1), channels: 2 } as const;
  mixIn(heard, { samples: Float32Array.of(2, 4), channels: 1 }, 0, 1);
  expect([...heard.samples]).toEqual([2, 0, 5, 3]);
  mixIn(heard, { samples: Float32Array.of(1, 2, 3, 4), channels: 2 }, 1, 1);
  expect([...heard.samples]).toEqual([3, 2, 8, 7]);
  const mono = { samples: Float32Array.of(0.5, 0.5), channels: 1 } as const;
  mixIn(mono, { samples: Float32Array.of(0.25, 0.5), channels: 1 }, 2, 2);
  expect([...mono.samples]).toEqual([1, 1.5]);
  expect([...onBothSides(Float32Array.of(1, 2))]).toEqual([1, 1, 2, 2]);
});

it("goes slowly to another factor: two thirds of the way in its time, whatever steps it takes", () => {
  expect(slowlyTo(0, 1, 0.25, 0.25)).toBeCloseTo(1 - 1 / Math.E, 9);
  expect(slowlyTo(slowlyTo(0, 1, 0.1, 0.25), 1, 0.15, 0.25)).toBeCloseTo(1 - 1 / Math.E, 9);
  expect(slowlyTo(0.3, 0.3, 5, 0.25)).toBe(0.3);
});
