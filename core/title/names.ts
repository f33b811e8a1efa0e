/**
 * What is not seen, or changes how the rest is seen: controls, formats, and blanks that are no spaces (Unicode's
 * Default_Ignorable_Code_Point holds most of them).
 */
const UNSEEN = /\p{Cc}|\p{Cf}|\p{Default_Ignorable_Code_Point}|\u2800/gu;
/** Joins emoji and letters of some scripts; kept where there is something to join. */
const JOINERS = /[\u200c\u200d]/gu;

/**
 * A person's or workspace's name as it is kept: one line, no doubled spaces, nothing unseen. Empty when nothing that
 * can be seen is left.
 */
export function tidyName(text: string): string {
  const kept = text
    .normalize("NFC")
    .replace(UNSEEN, (c) => (/[\u200c\u200d]/.test(c) ? c : /\p{Cc}/u.test(c) ? " " : ""))
    .replace(/\s+/gu, " ")
    .trim();
  return kept.replace(JOINERS, "").trim() === "" ? "" : kept;
}
