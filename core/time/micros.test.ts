import { describe, expect, it } from "vitest";
import { formatClock, fromSeconds, isoDuration, readClock, spokenLength, toSeconds } from "./micros";

describe("micros", () => {
  it.each([
    [0, "0:00"],
    [999_999, "0:00"],
    [64_000_000, "1:04"],
    [3_599_999_999, "59:59"],
    [3_723_000_000, "1:02:03"],
    [-5, "0:00"],
    [Number.NaN, "0:00"],
  ])("writes %d µs as %s", (us, text) => expect(formatClock(us)).toBe(text));

  it.each([
    [0, "0 seconds"],
    [1_000_000, "1 second"],
    [64_000_000, "1 minute 4 seconds"],
    [7_200_000_000, "2 hours"],
  ])("says %d µs as %s", (us, text) => expect(spokenLength(us)).toBe(text));

  it.each([999_999, 9_600_000, 59_999_999])("says and marks up the second that it shows, at %d µs", (us) => {
    const shown = Number(formatClock(us).split(":")[1]);
    expect(spokenLength(us)).toBe(`${shown} second${shown === 1 ? "" : "s"}`);
    expect(isoDuration(us)).toBe(`PT${shown}S`);
  });

  it("converts both ways without loss at media precision", () => {
    for (const us of [0, 1, 33_333, 2_000_000, 3_600_000_001]) expect(fromSeconds(toSeconds(us))).toBe(us);
  });

  it.each([
    ["0:07", 7_000_000],
    [" 65 ", 65_000_000],
    ["65.25", 65_250_000],
    ["1:04", 64_000_000],
    ["90:00", 5_400_000_000],
    ["1:02:03.5", 3_723_500_000],
    ["", null],
    ["1:60", null],
    ["1:60:00", null],
    ["-5", null],
    ["1,5", null],
    ["1:", null],
    ["soon", null],
  ])("reads %j", (text, us) => expect(readClock(text)).toBe(us));

  it("writes ISO 8601 durations", () => expect(isoDuration(64_400_000)).toBe("PT64S"));
});
