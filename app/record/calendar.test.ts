import { describe, expect, it } from "vitest";
import { calendarFile } from "./calendar";

const file = calendarFile({
  uid: "take-7@clear-nod",
  title: "Record: north slope, panes; putty",
  url: "https://nod.test/record",
  at: Date.UTC(2026, 10, 26, 14, 30),
  now: Date.UTC(2026, 10, 26, 9, 0, 5),
  minutes: 10,
});

/** Outside check: RFC 5545, from memory. Lines end in CRLF, long ones are folded, and text escapes `,` and `;`. */
describe("an appointment for a calendar", () => {
  const lines = file.replace(/\r\n[ \t]/g, "").split("\r\n");

  it("has what RFC 5545 asks for, in UTC", () => {
    expect(lines.slice(0, 2)).toEqual(["BEGIN:VCALENDAR", "VERSION:2.0"]);
    for (const line of [
      "PRODID:-//Clear Nod//Recorder//EN",
      "BEGIN:VEVENT",
      "UID:take-7@clear-nod",
      "DTSTAMP:20261126T090005Z",
      "DTSTART:20261126T143000Z",
      "DTEND:20261126T144000Z",
      "SUMMARY:Record: north slope\\, panes\\; putty",
      "URL:https://nod.test/record",
      "BEGIN:VALARM",
      "TRIGGER:-PT5M",
      "END:VEVENT",
      "END:VCALENDAR",
    ])
      expect(lines).toContain(line);
    expect(lines.at(-1)).toBe("");
  });

  it("has no bare line end and no line of more than 75 octets", () => {
    expect(file.replaceAll("\r\n", "")).not.toMatch(/[\r\n]/);
    const long = calendarFile({ uid: "u", title: "ä".repeat(90), url: "u", at: 0, now: 0, minutes: 1 });
    for (const line of long.split("\r\n")) expect(new TextEncoder().encode(line).length).toBeLessThanOrEqual(75);
  });

  it("keeps a title on one line, whatever is in it", () => {
    const odd = calendarFile({ uid: "u", title: "a\r\nEND:VEVENT", url: "u", at: 0, now: 0, minutes: 1 });
    expect(odd.split("\r\n").filter((line) => line === "END:VEVENT")).toHaveLength(1);
  });
});
