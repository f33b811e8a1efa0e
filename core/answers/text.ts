import { LinkifyIt } from "linkify-it";

/**
 * A piece of a comment: plain, stressed, strong, or a link. There is no other way to make markup, so text can never
 * become script.
 */
export type Piece =
  | { kind: "text"; text: string }
  | { kind: "stress"; text: string }
  | { kind: "strong"; text: string }
  | { kind: "link"; text: string; href: string };

export const COMMENT_MAX = 2_000;

const links = new LinkifyIt({ fuzzyEmail: false, fuzzyIP: false, fuzzyLink: false });
const EMPHASIS = /(?<![\w*])\*([^\s*](?:[^*\n]*[^\s*])?)\*(?![\w*])|(?<![\w_])_([^\s_](?:[^_\n]*[^\s_])?)_(?![\w_])/g;

/**
 * A comment as pieces: `http:` and `https:` addresses become links, `*word*` strong, `_word_` stressed. The text itself
 * is never changed.
 */
export function piecesOf(text: string): Piece[] {
  const out: Piece[] = [];
  let at = 0;
  for (const match of links.match(text) ?? []) {
    if (!/^https?:\/\//i.test(match.url)) continue;
    out.push(...emphasis(text.slice(at, match.index)), { kind: "link", text: match.raw, href: match.url });
    at = match.lastIndex;
  }
  return [...out, ...emphasis(text.slice(at))];
}

function emphasis(text: string): Piece[] {
  const out: Piece[] = [];
  let at = 0;
  for (const match of text.matchAll(EMPHASIS)) {
    if (match.index > at) out.push({ kind: "text", text: text.slice(at, match.index) });
    out.push(match[1] !== undefined ? { kind: "strong", text: match[1] } : { kind: "stress", text: match[2]! });
    at = match.index + match[0].length;
  }
  if (at < text.length) out.push({ kind: "text", text: text.slice(at) });
  return out;
}

/** Does a comment ask something? A question mark at the end of a word, in the scripts that have one. */
export const asksSomething = (text: string): boolean =>
  /[?？؟](?=[\s"'”’)\]]|$)/u.test(text.replace(/https?:\/\/\S+/g, ""));

/** Control characters other than line feed, and direction overrides. */
const UNWANTED = /(?!\n)\p{Cc}|[\u202a-\u202e\u2066-\u2069]/gu;

/**
 * Text from a form as it is kept: no spaces at its ends, no control characters, no direction overrides that could
 * disguise a link.
 */
export function tidyComment(text: string): string {
  return text.normalize("NFC").replace(/\r\n?/g, "\n").replace(UNWANTED, "").trim();
}
