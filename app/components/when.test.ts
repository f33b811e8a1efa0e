import dayjs from "dayjs";
import { describe, expect, it } from "vitest";
import { saidDate, saidDay } from "./When";

describe("dates as people say them", () => {
  const now = dayjs("2026-11-24T10:00:00");
  it.each([
    ["2026-11-24T09:05:00", "today 9:05"],
    ["2026-11-23T23:59:00", "yesterday 23:59"],
    ["2026-11-20T16:00:00", "Friday 16:00"],
    ["2026-11-17T16:00:00", "17 November"],
    ["2025-11-24T10:00:00", "24 November 2025"],
  ])("%s is %s", (at, said) => expect(saidDate(dayjs(at).toISOString(), now)).toBe(said));

  it.each([
    ["2026-11-24", "today"],
    ["2026-11-25", "tomorrow"],
    ["2026-11-23", "yesterday"],
    ["2026-11-29", "Sunday"],
    ["2026-12-24", "24 December"],
    ["2027-01-02", "2 January 2027"],
  ])("the day %s is %s", (day, said) => expect(saidDay(day, now)).toBe(said));
});
