import { clipped, noticeLine, noticeSubject, type Notice } from "./letter";

/** What a browser says of notices, by itself. */
export interface PushWords {
  title: string;
  body: string;
  /** where a press on it leads */
  url: string;
}

/** What arrives at a browser. */
export interface Pushed extends PushWords {
  /** of the letter that it stands for */
  id: string;
}

/** For so long a browser can be told instead of by mail; whatever it has not shown by then is mailed. */
export const PUSH_WITHIN_MS = 10 * 60_000;

/** With three bytes for each it fits into what every browser takes (4,096 bytes, RFC 8291). */
const MOST_BODY = 500;
const MOST_LINES = 4;

/**
 * Notices in the few words that a browser shows.
 * @param notices at least one
 * @param all where they are found when they are about several recordings
 */
export function pushWords(notices: readonly Notice[], all: string): PushWords {
  const { title, url } = notices[0]!;
  const lines = notices.slice(0, MOST_LINES).map(noticeLine);
  if (notices.length > MOST_LINES) lines[MOST_LINES - 1] = `and ${notices.length - MOST_LINES + 1} more`;
  const body = lines.join("\n");
  return {
    title: notices.length === 1 ? title : noticeSubject(notices),
    body: clipped(body, MOST_BODY),
    url: notices.every((notice) => notice.url === url) ? url : all,
  };
}
