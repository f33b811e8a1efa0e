import { MILLISECOND, type Micros } from "../time/micros";

/** A part of a film with a title of its own. */
export interface FilmChapter {
  at: Micros;
  title: string;
}

/**
 * What is written into a film, in ffmpeg's format for that (ffmpeg-formats, "Metadata").
 * @param tags by their names there
 * @param length of all
 */
export function filmNotes(
  tags: Readonly<Record<string, string>>,
  chapters: readonly FilmChapter[],
  length: Micros,
): string {
  const lines = Object.entries(tags)
    .filter(([, text]) => text !== "")
    .map(([name, text]) => `${name}=${escaped(text)}`);
  const inMs = (at: Micros) => Math.round(at / MILLISECOND);
  // Players take the first chapter for the beginning: where it is not, there is one before it.
  const begins = chapters[0] && chapters[0].at > 0 ? [{ at: 0, title: tags.title ?? "" }] : [];
  const all = [...begins, ...chapters];
  const parts = all.map(({ at, title }, i) =>
    [
      "[CHAPTER]",
      "TIMEBASE=1/1000",
      `START=${inMs(at)}`,
      `END=${inMs(all[i + 1]?.at ?? length)}`,
      `title=${escaped(title)}`,
    ].join("\n"),
  );
  return [";FFMETADATA1", ...lines, ...parts, ""].join("\n");
}

/**
 * What has a meaning there has a stroke before it, and so has the end of a line. ffmpeg (5.1, seen) takes a line that
 * ends in a stroke for one that goes on, also where the stroke is escaped: a space ends it.
 */
const escaped = (text: string) =>
  text
    .replace(/\r\n?/g, "\n")
    .replace(/\\$/, "\\ ")
    .replace(/[=;#\\\n]/g, "\\$&");
