import { describe, expect, it } from "vitest";
import { dayBegins, dayEnds, lastDays } from "./days";

const HOUR = 3_600_000;

// Outside check: what the runtime's own Intl (ICU) says of these moments.
const said = (at: number, timeZone: string) =>
  new Intl.DateTimeFormat("sv-SE", { timeZone, dateStyle: "short", timeStyle: "medium" }).format(at);

describe("days of a zone", () => {
  it.each(["UTC", "Europe/Berlin", "Asia/Calcutta", "America/New_York", "Pacific/Chatham", "Australia/Lord_Howe"])(
    "begin and end at midnight in %s, all year",
    (zone) => {
      for (let day = Date.UTC(2026, 0, 1); day < Date.UTC(2027, 0, 1); day += 24 * HOUR) {
        const name = new Date(day).toISOString().slice(0, 10);
        const next = new Date(day + 24 * HOUR).toISOString().slice(0, 10);
        expect(said(dayBegins(name, zone), zone)).toBe(`${name} 00:00:00`);
        expect(said(dayEnds(name, zone), zone)).toBe(`${next} 00:00:00`);
      }
    },
  );

  it("are as long as they are there", () => {
    const length = (day: string) => (dayEnds(day, "Europe/Berlin") - dayBegins(day, "Europe/Berlin")) / HOUR;
    expect(["2026-03-29", "2026-10-25", "2026-06-01"].map(length)).toEqual([23, 25, 24]);
  });

  it("are counted back from the one that it is there", () => {
    const now = Date.UTC(2026, 10, 30, 23, 30);
    expect(lastDays(now, "Europe/Berlin", 3).map((at) => said(at, "Europe/Berlin"))).toEqual([
      "2026-11-29 00:00:00",
      "2026-11-30 00:00:00",
      "2026-12-01 00:00:00",
    ]);
    expect(said(lastDays(now, "America/New_York", 1)[0]!, "America/New_York")).toBe("2026-11-30 00:00:00");
  });
});
