import { toSeconds, type Micros } from "../time/micros";

/** Of what an address can be told. */
export const HOOK_KINDS = ["comment", "reply", "answer", "not-clear"] as const;
export type HookKind = (typeof HOOK_KINDS)[number];

export const HOOK_KIND_WORDS: Record<HookKind, string> = {
  comment: "Comments",
  reply: "Replies",
  answer: "Nods and answers",
  "not-clear": "“Not clear yet”",
};

const MINUTE_MS = 60_000;
const HOUR_MS = 60 * MINUTE_MS;
/** After a try that failed, so long until the next one; after the last it is given up. Some two days in all. */
export const HOOK_TRIES_MS = [1, 5, 30, 120, 360, 720, 1440].map((minutes) => minutes * MINUTE_MS);

/** Did whoever was told take it? Any status of success (RFC 9110, 15.3). @param status null where nobody answered */
export const wasTaken = (status: number | null): boolean => status !== null && status >= 200 && status < 300;

/** When it is tried again after so many tries; null for never. @param now ms since 1970 */
export const triedAgainAt = (tries: number, now: number): number | null => {
  const wait = HOOK_TRIES_MS[tries - 1];
  return wait === undefined ? null : now + wait;
};

/** So long what was sent is remembered, for whoever looks at it. */
export const HOOK_KEPT_MS = 14 * 24 * HOUR_MS;

/** What is told. `test` is sent by hand, and is about nothing. */
export interface Told {
  kind: HookKind | "test";
  /** ISO 8601 */
  when: string;
  recording: { title: string; link: string } | null;
  who: string | null;
  guest: boolean;
  words: string;
  at: Micros | null;
}

/** The body of it: `type`, `timestamp`, `data`. Source: Standard Webhooks 1.0.0, "payload structure" (from memory). */
export const hookBody = ({ kind, when, recording, who, guest, words, at }: Told): string =>
  JSON.stringify({
    type: kind === "test" ? "test" : `recording.${kind.replace("-", "_")}`,
    timestamp: when,
    data: recording ? { recording, who, guest, words, at: at === null ? null : toSeconds(at) } : {},
  });
