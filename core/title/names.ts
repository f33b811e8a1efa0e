/** What is not seen, or changes how the rest is seen: controls, formats, and blanks that are no spaces. */
const UNSEEN = /[\p{Cc}\p{Cf}\u00ad\u034f\u115f\u1160\u17b4\u17b5\u180b-\u180f\u2800\u3164\uffa0]/gu;
/** Joins emoji and letters of some scripts; kept where there is something to join. */
const JOINERS = /[\u200c\u200d]/gu;

/**
 * A person's or workspace's name as it is kept: one line, no doubled spaces, nothing unseen. Empty when nothing that can
 * be seen is left.
 */
export function tidyName(text: string): string {
  const kept = text
    .normalize("NFC")
    .replace(UNSEEN, (c) => (/[\u200c\u200d]/.test(c) ? c : /\p{Cc}/u.test(c) ? " " : ""))
    .replace(/\s+/gu, " ")
    .trim();
  return kept.replace(JOINERS, "").trim() === "" ? "" : kept;
}
