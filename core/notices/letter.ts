import dayjs from "dayjs";
import { REACTION_NAMES, type ReactionKind } from "../answers/kinds";
import type { Letter, LetterEntry } from "../mail/letter";
import { lastDay, sayUnused } from "../retention/retention";
import { formatClock, type Micros } from "../time/micros";
import type { NoticeKind } from "./wishes";

/** Something that somebody is told. */
export interface Notice {
  kind: NoticeKind;
  /** of the recording that it is about */
  title: string;
  url: string;
  /** who did it; null for an unnamed guest */
  who: string | null;
  /**
   * What was said, asked or answered, as words; the name of a folder; the kind of a reaction; why something failed; the
   * moment at which it goes, ISO 8601.
   */
  words: string;
  at: Micros | null;
}

/** What is said of a take whose rest does not come. */
export const MISSING_REST =
  "A part of it has not arrived. Open the desk on the computer that recorded it: it sends the rest by itself.";

/** So many recordings stand in one letter; the rest is counted. */
export const MOST_ENTRIES = 30;
const MOST_LINES = 8;
const MOST_WORDS = 300;
const MOST_OF_SUBJECT = 150;

/**
 * What somebody is told, as one letter: recording by recording, in the order in which they first come.
 * @param all where everything is found
 * @param foot how to be told otherwise
 */
export function noticeLetter(
  notices: readonly Notice[],
  { all, foot }: { all: { words: string; url: string }; foot: string[] },
): Letter {
  const entries = new Map<string, { title: string; url: string; lines: string[] }>();
  for (const notice of notices) {
    const entry = entries.get(notice.url) ?? { title: notice.title, url: notice.url, lines: [] };
    entries.set(notice.url, entry);
    entry.lines.push(noticeLine(notice));
  }
  const shown = [...entries.values()].slice(0, MOST_ENTRIES).map(shortened);
  const more = entries.size - shown.length;
  const subject = noticeSubject(notices);
  return {
    subject,
    title: notices.length === 1 ? subject : "What is new",
    paragraphs: [],
    entries: shown,
    ...(more > 0 && { after: `And ${more} more ${more === 1 ? "recording" : "recordings"} with something new.` }),
    link: all,
    foot,
  };
}

/** One notice in a line. */
export function noticeLine({ kind, who, words, at }: Pick<Notice, "kind" | "who" | "words" | "at">): string {
  const somebody = who ?? "An unnamed guest";
  const moment = at === null ? "" : ` at ${formatClock(at)}`;
  const said = words === "" ? "" : `: “${clipped(words)}”`;
  switch (kind) {
    case "comment":
      return `${somebody} comments${moment}${said}`;
    case "reply":
      return `${somebody} replies${moment}${said}`;
    case "answer":
      return `${somebody} answers${said}`;
    case "not-clear":
      return `${somebody}: not clear yet${moment}${said}`;
    case "reaction":
      return `${somebody}${moment}: ${REACTION_NAMES[words as ReactionKind] ?? words}`;
    case "view":
      return `${somebody} has opened it`;
    case "owed":
      return `${somebody} asks you${said}`;
    case "folder":
      return `New in the folder “${words}”, by ${somebody}`;
    case "ready":
      return "All of it has arrived, and plays";
    case "trouble":
      return words === "" ? MISSING_REST : clipped(words);
    case "unused":
      return sayUnused(dayjs(lastDay(words)).format("D MMMM YYYY"));
  }
}

/** What they all are, in a line. @param notices at least one */
export function noticeSubject(notices: readonly Notice[]): string {
  const recordings = new Set(notices.map(({ url }) => url)).size;
  const { kind, title, words, ...first } = notices[0]!;
  const news = () => {
    if (notices.every((n) => n.kind === "folder" && n.words === words))
      return recordings === 1 ? `New in “${words}”: ${title}` : `${recordings} new recordings in “${words}”`;
    if (notices.length > 1)
      return `${notices.length} news: ${title}${recordings > 1 ? `, and ${recordings - 1} more` : ""}`;
    if (kind === "unused") return `It goes soon: ${title}`;
    if (kind === "trouble") return `${words === "" ? "Not all has arrived" : "Something has failed"}: ${title}`;
    const line = noticeLine({ ...first, kind, words: kind === "reaction" ? words : "", at: null });
    return `${line}: ${title}`;
  };
  return clipped(news(), MOST_OF_SUBJECT);
}

const shortened = ({ title, url, lines }: LetterEntry): LetterEntry => ({
  title,
  url,
  lines:
    lines.length <= MOST_LINES
      ? lines
      : [...lines.slice(0, MOST_LINES - 1), `and ${lines.length - MOST_LINES + 1} more`],
});

/** So many UTF-16 units at the most; no character is cut in two. */
export const clipped = (words: string, most = MOST_WORDS) =>
  words.length <= most
    ? words
    : `${words
        .slice(0, most - 1)
        .replace(/[\uD800-\uDBFF]$/, "")
        .trimEnd()}…`;
