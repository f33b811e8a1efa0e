import { describe, expect, it } from "vitest";
import { nextAt } from "./next-at";

describe("the next time that a clock shows", () => {
  const now = new Date(2026, 10, 30, 14, 29, 30);
  it.each([
    ["14:30", new Date(2026, 10, 30, 14, 30)],
    ["14:29", new Date(2026, 11, 1, 14, 29)],
    ["00:00", new Date(2026, 11, 1)],
  ])("%s", (clock, expected) => expect(nextAt(clock, now)).toEqual(expected));
  it.each(["", "24:00", "9:30", "14:60", "14:30:00"])("%s is none", (clock) => expect(nextAt(clock, now)).toBeNull());
});
