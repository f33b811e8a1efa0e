import dayjs from "dayjs";
import { describe, expect, it } from "vitest";
import { saidDate } from "./When";

describe("dates as people say them", () => {
  const now = dayjs("2026-11-24T10:00:00");
  it.each([
    ["2026-11-24T09:05:00", "today 9:05"],
    ["2026-11-23T23:59:00", "yesterday 23:59"],
    ["2026-11-20T16:00:00", "Friday 16:00"],
    ["2026-11-17T16:00:00", "17 November"],
    ["2025-11-24T10:00:00", "24 November 2025"],
  ])("%s is %s", (at, said) => expect(saidDate(dayjs(at).toISOString(), now)).toBe(said));
});
