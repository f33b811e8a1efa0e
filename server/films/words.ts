import { createRequire } from "node:module";
import * as fontkit from "fontkit";
import type { Font, Glyph, GlyphPosition } from "fontkit";

/** The faces that pages are set in. */
export type Face = "words" | "bold" | "heading";

const FILES: Record<Face, [family: string, weight: number]> = {
  words: ["atkinson-hyperlegible-next", 400],
  bold: ["atkinson-hyperlegible-next", 600],
  heading: ["bricolage-grotesque", 600],
};
const opened = new Map<Face, Font[]>();

/** A face comes in parts: western letters, and those of the rest of Europe. */
function fontsOf(face: Face): Font[] {
  let fonts = opened.get(face);
  if (!fonts) {
    const { resolve } = createRequire(import.meta.url);
    const [family, weight] = FILES[face];
    fonts = ["latin", "latin-ext"].map(
      (part) =>
        fontkit.openSync(resolve(`@fontsource/${family}/files/${family}-${part}-${weight}-normal.woff2`)) as Font,
    );
    opened.set(face, fonts);
  }
  return fonts;
}

/** Words as a shape, so that they look the same wherever they are drawn: whatever fonts a computer has. */
export interface SetWords {
  /** path data of SVG; they stand on a line at 0, and begin at 0 */
  d: string;
  width: number;
}

/** Sets words in one line. What the face has no letter for is a box. @param size of the letters' square */
export function setWords(text: string, face: Face, size: number): SetWords {
  const fonts = fontsOf(face);
  let d = "";
  let x = 0;
  for (const { font, part } of partsOf(text, fonts)) {
    const scale = size / font.unitsPerEm;
    const { glyphs, positions } = font.layout(part);
    glyphs.forEach((glyph: Glyph, i) => {
      const { xOffset, yOffset, xAdvance } = positions[i] as GlyphPosition;
      d += glyph.path
        .scale(scale, -scale)
        .translate(x + xOffset * scale, -yOffset * scale)
        .toSVG();
      x += xAdvance * scale;
    });
  }
  return { d, width: x };
}

function partsOf(text: string, fonts: readonly Font[]): { font: Font; part: string }[] {
  const parts: { font: Font; part: string }[] = [];
  for (const letter of text) {
    const font = fonts.find((f) => f.hasGlyphForCodePoint(letter.codePointAt(0)!)) ?? fonts[0]!;
    const last = parts.at(-1);
    if (last?.font === font) last.part += letter;
    else parts.push({ font, part: letter });
  }
  return parts;
}

/** Words in lines that are no wider than there is room; a word that is wider is broken. */
export function linesOf(text: string, face: Face, size: number, room: number): string[] {
  const fits = (line: string) => setWords(line, face, size).width <= room;
  const lines: string[] = [];
  let line = "";
  for (const word of text.split(/\s+/).filter(Boolean)) {
    if (line && fits(`${line} ${word}`)) {
      line += ` ${word}`;
      continue;
    }
    if (line) lines.push(line);
    line = "";
    for (const letter of word) {
      if (line && !fits(line + letter)) {
        lines.push(line);
        line = "";
      }
      line += letter;
    }
  }
  return line ? [...lines, line] : lines;
}
