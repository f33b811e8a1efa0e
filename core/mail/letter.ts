/** The most characters of a line of one's own. */
export const WORDS_MAX = 1_000;

export interface LetterEntry {
  title: string;
  url: string;
  lines: readonly string[];
}

/** What a letter says, before it is text or HTML. Everything in it is plain text. */
export interface Letter {
  subject: string;
  /** what stands first, in a size of its own */
  title: string;
  paragraphs: readonly string[];
  /** what it lists: each with lines of its own, and the address that its title leads to */
  entries?: readonly LetterEntry[];
  /** what stands after the list */
  after?: string;
  /** what somebody said in words of their own */
  quote?: { by: string; words: string };
  /** what is to be pressed */
  link?: { words: string; url: string };
  /** what is to be read off, such as a code */
  sign?: string;
  /** small, at the end */
  foot: readonly string[];
  /** leads to where no more of this is wanted */
  stop?: { words: string; url: string };
}

const MOST_COLUMNS = 76;

/** A letter as plain text, in lines of at most 76 characters but for addresses (RFC 5322, 2.1.1: 78 at the most). */
export function letterText({ title, paragraphs, entries = [], after, quote, link, sign, foot, stop }: Letter): string {
  const parts = [
    title,
    ...paragraphs,
    ...entries.map((entry) => [entry.title, ...entry.lines.map((line) => `- ${line}`), entry.url].join("\n")),
    after,
    quote && `${quote.by}:\n${quoted(quote.words)}`,
    sign && `    ${sign}`,
    link && `${link.words}:\n${link.url}`,
    // The sign by which mail programs know what stands below the letter itself (RFC 3676, 4.3).
    ["-- ", ...foot, stop && `${stop.words}:\n${stop.url}`].filter((line) => line !== undefined).join("\n"),
  ].filter((part) => part !== undefined);
  return parts.map((part) => wrapped(part)).join("\n\n") + "\n";
}

const INK = "#16302B";
const PAPER = "#F7F5EF";
const LEAF = "#2F7D5B";
const MIST = "#DDE5E0";
const FONT = "font-family:'Atkinson Hyperlegible Next','Atkinson Hyperlegible',Verdana,sans-serif";

/** The same as HTML: one narrow column, all styles in place, nothing that is fetched. */
export function letterHtml({
  subject,
  title,
  paragraphs,
  entries = [],
  after,
  quote,
  link,
  sign,
  foot,
  stop,
}: Letter): string {
  const p = (text: string, style = "") =>
    `<p style="margin:0 0 16px;${style}">${escaped(text).replaceAll("\n", "<br>")}</p>`;
  const parts = [
    `<h1 style="margin:0 0 16px;font-size:22px;line-height:1.25">${escaped(title)}</h1>`,
    ...paragraphs.map((text) => p(text)),
    ...entries.map(
      (entry) =>
        `<div style="border-top:1px solid ${MIST};padding:12px 0 0">` +
        `<p style="margin:0 0 4px"><a href="${escaped(entry.url)}" style="color:${INK};font-weight:bold">` +
        `${escaped(entry.title)}</a></p>${p(entry.lines.join("\n"))}</div>`,
    ),
    after && p(after),
    quote &&
      `<div style="border-left:3px solid ${LEAF};padding-left:14px;margin:0 0 20px">` +
        `<p style="margin:0 0 4px;font-weight:bold">${escaped(quote.by)}</p>${p(quote.words)}</div>`,
    sign && p(sign, "font-size:30px;letter-spacing:6px;font-variant-numeric:tabular-nums;font-weight:bold"),
    link &&
      `<p style="margin:0 0 24px"><a href="${escaped(link.url)}" style="background:${LEAF};color:#FFFFFF;` +
        `text-decoration:none;padding:11px 20px;display:inline-block;font-weight:bold">${escaped(link.words)}</a></p>`,
  ].filter(Boolean);
  const small = [
    ...foot.map(escaped),
    stop && `<a href="${escaped(stop.url)}" style="color:${INK}">${escaped(stop.words)}</a>`,
  ].filter(Boolean);
  return (
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>${escaped(subject)}</title>` +
    `<meta name="viewport" content="width=device-width"></head>` +
    `<body style="margin:0;background:${PAPER};color:${INK};${FONT};font-size:16px;line-height:1.5">` +
    `<div style="max-width:520px;margin:0 auto;padding:24px 16px">` +
    `<div style="background:#FFFFFF;border:1px solid ${MIST};border-top:4px solid ${INK};padding:28px 28px 8px">` +
    `${parts.join("")}</div>` +
    `<p style="font-size:13px;margin:14px 0 0;padding:0 28px">${small.join("<br>")}</p></div></body></html>`
  );
}

const ESCAPES: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;", '"': "&quot;", "'": "&#39;" };
const escaped = (text: string) => text.replace(/[&<>"']/g, (c) => ESCAPES[c]!);

const quoted = (words: string) =>
  wrapped(words, MOST_COLUMNS - 2)
    .split("\n")
    .map((line) => `> ${line}`)
    .join("\n");

/** Broken at spaces; a word that is longer, such as an address, stays whole. */
function wrapped(text: string, columns = MOST_COLUMNS): string {
  return text
    .split("\n")
    .map((line) => {
      // What is set in on purpose, or quoted, stands as it is.
      if (line.length <= columns || /^(?: {4}|> )/.test(line)) return line;
      const lines = [""];
      for (const word of line.split(" ")) {
        const last = lines.at(-1)!;
        if (last !== "" && last.length + 1 + word.length > columns) lines.push(word);
        else lines[lines.length - 1] = last === "" ? word : `${last} ${word}`;
      }
      return lines.join("\n");
    })
    .join("\n");
}
