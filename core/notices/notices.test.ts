import { describe, expect, it } from "vitest";
import { letterHtml, letterText } from "../mail/letter";
import { MOST_ENTRIES, noticeLetter, type Notice } from "./letter";
import { DIGEST_HOUR, FIRST_WISHES, GATHER_MS, NOTICE_KINDS, tellAt, type QuietHours } from "./wishes";

const HOUR = 3_600_000;
/** What a clock of a zone shows, as the runtime's own data of zones has it (ECMA-402). */
const clock = (zone: string, at: number) =>
  new Intl.DateTimeFormat("en-GB", {
    timeZone: zone,
    weekday: "short",
    hour: "2-digit",
    minute: "2-digit",
    hourCycle: "h23",
  }).format(at);
const ZONES = ["UTC", "Europe/Berlin", "America/New_York", "Australia/Lord_Howe", "Asia/Kolkata", "Pacific/Apia"];
/** Every 17 hours of five weeks, over the change of clocks in March. */
const MOMENTS = Array.from({ length: 50 }, (_, i) => Date.UTC(2026, 2, 4, 0, 13) + i * 17 * HOUR);
const wishes = (zone: string, quiet: QuietHours | null = null) => ({ zone, quiet });

describe("when something is told", () => {
  it.each(ZONES)("once a day: at the next eight o'clock of %s, whatever the clocks do", (zone) => {
    for (const at of MOMENTS) {
      const told = tellAt("day", at, wishes(zone))!;
      expect(clock(zone, told)).toMatch(/ 08:00$/);
      expect(told).toBeGreaterThan(at);
      expect(told - at).toBeLessThanOrEqual(25 * HOUR);
    }
  });

  it.each(ZONES)("once a week: on the next Monday at eight of %s", (zone) => {
    for (const at of MOMENTS) {
      const told = tellAt("week", at, wishes(zone))!;
      expect(clock(zone, told)).toBe("Mon 08:00");
      expect(told).toBeGreaterThan(at);
      expect(told - at).toBeLessThanOrEqual(7 * 24 * HOUR + HOUR);
    }
  });

  it("at once: after what comes with it was gathered; never: not at all", () => {
    expect(tellAt("now", 5, wishes("UTC"))).toBe(5 + GATHER_MS);
    expect(tellAt("never", 5, wishes("UTC"))).toBeNull();
  });

  it.each([
    { from: 20, until: 7 },
    { from: 1, until: 9 },
    { from: 0, until: 23 },
  ])("never while it is quiet, from $from to $until", (quiet) => {
    for (const zone of ZONES)
      for (const at of MOMENTS)
        for (const time of ["now", "day", "week"] as const) {
          const told = tellAt(time, at, wishes(zone, quiet))!;
          const hour = Number(clock(zone, told).slice(-5, -3));
          const isQuiet =
            quiet.from < quiet.until
              ? hour >= quiet.from && hour < quiet.until
              : hour >= quiet.from || hour < quiet.until;
          expect(isQuiet, `${zone} ${clock(zone, told)}`).toBe(false);
          const otherwise = tellAt(time, at, wishes(zone))!;
          expect(told).toBeGreaterThanOrEqual(otherwise);
          expect(told - otherwise).toBeLessThan(25 * HOUR);
        }
  });

  it("not before it may be, nor when it has become quiet since", () => {
    const at = Date.UTC(2026, 10, 27, 19, 58);
    const quiet = wishes("UTC", { from: 20, until: 7 });
    expect(tellAt("now", at, quiet)).toBe(at + GATHER_MS);
    expect(tellAt("now", at, wishes("UTC"), at + 5 * HOUR)).toBe(at + 5 * HOUR);
    expect(tellAt("now", at, quiet, at + HOUR)).toBe(Date.UTC(2026, 10, 28, 7));
    expect(tellAt("never", at, quiet, at + HOUR)).toBeNull();
  });

  it("says of every kind how it is told at first", () => {
    expect(Object.keys(FIRST_WISHES.mail).sort()).toEqual([...NOTICE_KINDS].sort());
    expect(DIGEST_HOUR).toBe(8);
  });
});

const notice = (over: Partial<Notice> = {}): Notice => ({
  kind: "comment",
  title: "Pane schedule",
  url: "https://nod.example/w/a",
  who: "Bram Lark",
  words: "Bay C, or bay D?",
  at: 83_000_000,
  ...over,
});
const around = { all: { words: "Open Answers", url: "https://nod.example/answers" }, foot: ["A foot."] };

describe("the letter", () => {
  it("of one thing says in its subject who did what where, and in its text all of it", () => {
    const letter = noticeLetter([notice()], around);
    expect(letter.subject).toBe("Bram Lark comments: Pane schedule");
    const text = letterText(letter);
    expect(text).toContain("- Bram Lark comments at 1:23: “Bay C, or bay D?”");
    expect(text).toContain("https://nod.example/w/a");
    expect(text).toContain("https://nod.example/answers");
  });

  it("of several gathers them by recording, in their order", () => {
    const other = { title: "Vents", url: "https://nod.example/w/b" };
    const letter = noticeLetter(
      [notice(), notice({ ...other, kind: "answer", words: "A nod" }), notice({ kind: "reply" })],
      around,
    );
    expect(letter.subject).toBe("3 news: Pane schedule, and 1 more");
    expect(letter.entries!.map(({ title, lines }) => [title, lines.length])).toEqual([
      ["Pane schedule", 2],
      ["Vents", 1],
    ]);
  });

  it.each([
    [
      notice({ kind: "folder", words: "Bay C" }),
      "New in “Bay C”: Pane schedule",
      "New in the folder “Bay C”, by Bram Lark",
    ],
    [
      notice({ kind: "reaction", words: "thanks", who: null }),
      "An unnamed guest: Thanks: Pane schedule",
      "An unnamed guest at 1:23: Thanks",
    ],
    [
      notice({ kind: "trouble", who: null, words: "" }),
      "Not all has arrived: Pane schedule",
      "A part of it has not arrived",
    ],
    [
      // There until the last moment of the 12th, in UTC.
      notice({ kind: "unused", who: null, words: "2026-12-13T00:00:00.000Z", at: null }),
      "It goes soon: Pane schedule",
      "It stays until 12 December 2026, and is deleted then, unless it is used or you let it stay.",
    ],
    [
      notice({ kind: "owed", words: "Do you agree?" }),
      "Bram Lark asks you: Pane schedule",
      "Bram Lark asks you: “Do you agree?”",
    ],
    [
      notice({ kind: "trouble", who: null, words: "A file of it cannot be read." }),
      "Something has failed: Pane schedule",
      "A file of it cannot be read.",
    ],
    [notice({ kind: "view" }), "Bram Lark has opened it: Pane schedule", "Bram Lark has opened it"],
    [notice({ kind: "not-clear", words: "" }), "Bram Lark: not clear yet: Pane schedule", "not clear yet at 1:23"],
  ])("says $kind in plain words", (one, subject, line) => {
    const letter = noticeLetter([one], around);
    expect(letter.subject).toBe(subject);
    expect(letter.entries![0]!.lines[0]).toContain(line);
  });

  it("of a folder counts what is new there", () => {
    const news = ["a", "b", "c"].map((token) =>
      notice({ kind: "folder", words: "Bay C", url: `https://nod.example/w/${token}` }),
    );
    expect(noticeLetter(news, around).subject).toBe("3 new recordings in “Bay C”");
  });

  it("of very much stays short, and says what it leaves out", () => {
    const many = Array.from({ length: 2_000 }, (_, i) =>
      notice({ url: `https://nod.example/w/${i % 100}`, words: "w".repeat(2_000) }),
    );
    const letter = noticeLetter(many, around);
    expect(letter.entries).toHaveLength(MOST_ENTRIES);
    expect(letter.after).toBe("And 70 more recordings with something new.");
    expect(letter.entries![0]!.lines.at(-1)).toBe("and 13 more");
    expect(letterText(letter).length).toBeLessThan(100_000);
    expect(letterHtml(letter).length).toBeLessThan(150_000);
  });

  it("holds nothing that was written as anything but text", () => {
    const html = letterHtml(
      noticeLetter([notice({ title: "<img src=x>", words: "<script>alert(1)</script>" })], around),
    );
    expect(html).not.toMatch(/<(img|script)/);
  });
});
