import { hourAt, nextHour } from "../time/days";

/** What somebody may be told of. */
export const NOTICE_KINDS = [
  "comment",
  "reply",
  "not-clear",
  "answer",
  "reaction",
  "view",
  "owed",
  "folder",
  "ready",
  "trouble",
  "unused",
] as const;
export type NoticeKind = (typeof NOTICE_KINDS)[number];

/** When something is mailed: at once, with all of a day, with all of a week, or never. */
export const NOTICE_TIMES = ["now", "day", "week", "never"] as const;
export type NoticeTime = (typeof NOTICE_TIMES)[number];

/** Hours of a clock in which nobody is told anything: 0 to 23; over midnight where `until` is the smaller one. */
export interface QuietHours {
  from: number;
  until: number;
}

/** How somebody wants to be told. */
export interface NoticeWishes {
  mail: Record<NoticeKind, NoticeTime>;
  /** what does not stand in the Answers place */
  hidden: NoticeKind[];
  /** by its IANA name: where their clock is */
  zone: string;
  quiet: QuietHours | null;
}

/** For whoever has chosen nothing: what needs them at once, what came back once a day, the rest not at all. */
export const FIRST_WISHES: NoticeWishes = {
  mail: {
    comment: "now",
    reply: "now",
    "not-clear": "now",
    answer: "day",
    reaction: "never",
    view: "never",
    owed: "now",
    folder: "day",
    ready: "never",
    trouble: "now",
    unused: "day",
  },
  hidden: ["reaction", "view", "ready"],
  zone: "UTC",
  quiet: null,
};

/** What comes within so long is told in one mail; and between two mails to somebody there is so long. */
export const GATHER_MS = 60_000;
export const APART_MS = 10 * 60_000;
/** The hour at which what was gathered is mailed; weekly on Mondays. */
export const DIGEST_HOUR = 8;

/**
 * When something is told. Moments are ms since 1970.
 * @param at when it happened
 * @param from before this nothing is told
 * @returns null for never
 */
export function tellAt(
  time: NoticeTime,
  at: number,
  { zone, quiet }: Pick<NoticeWishes, "zone" | "quiet">,
  from = 0,
): number | null {
  if (time === "never") return null;
  const wanted =
    time === "now" ? at + GATHER_MS : nextHour(DIGEST_HOUR, at, zone, time === "week" ? MONDAY : undefined);
  const moment = Math.max(wanted, from);
  return quiet && isQuiet(quiet, hourAt(moment, zone)) ? nextHour(quiet.until, moment, zone) : moment;
}

const MONDAY = 1;

const isQuiet = ({ from, until }: QuietHours, hour: number): boolean =>
  from < until ? hour >= from && hour < until : hour >= from || hour < until;
