import { TITLE_MAX, tidyTitle } from "./title";

export const DESCRIPTION_MAX = 4_000;
export const TAG_MAX = 40;
export const MOST_TAGS = 12;

/** What a recording is about, besides its title. */
export interface About {
  description: string;
  tags: string[];
}

/** A description as it is kept: its lines stay, what is not seen goes. */
export const tidyDescription = (text: string): string =>
  text
    .normalize("NFC")
    .replace(/\r\n?/g, "\n")
    .replace(/[^\P{C}\n\u200c\u200d]/gu, "")
    .replace(/\n{3,}/g, "\n\n")
    .trim()
    .slice(0, DESCRIPTION_MAX);

/** Tags as they are kept: each once, whatever its case, in the order in which they were given. */
export function tidyTags(given: readonly string[]): string[] {
  const kept = new Map<string, string>();
  for (const tag of given) {
    const tidy = tidyTitle(tag.slice(0, TITLE_MAX)).replace(/^#+/, "").trim().slice(0, TAG_MAX);
    if (tidy && !kept.has(tidy.toLowerCase())) kept.set(tidy.toLowerCase(), tidy);
  }
  return [...kept.values()].slice(0, MOST_TAGS);
}
