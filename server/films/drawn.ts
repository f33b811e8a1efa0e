import sharp from "sharp";
import type { Card } from "#core/layout/card";
import { CARD_BOX, CARD_LOOKS } from "#core/layout/card-look";
import { drawingOf, DRAWING_WIDTH, type Drawn } from "#core/layout/drawing";
import type { Size } from "#core/layout/layout";
import type { SeenMark } from "#core/layout/mark";
import type { Shape } from "#core/layout/scene";
import { linesOf, setWords, type Face } from "./words";

/** Pictures that are put on a recording, as PNG, by their ids. */
export type PutOn = ReadonlyMap<string, Buffer>;

const svg = ({ width, height }: Size, view: Size, inner: string) =>
  Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" width="${width}" height="${height}" ` +
      `viewBox="0 0 ${view.width} ${view.height}" preserveAspectRatio="none">${inner}</svg>`,
  );

/** What is drawn over a picture at a moment, as PNG of its size, clear elsewhere. */
export async function marksPicture(seen: readonly SeenMark[], size: Size, pictures: PutOn): Promise<Buffer> {
  const height = (DRAWING_WIDTH * size.height) / size.width;
  const marks = seen.map(({ mark, opacity }) => {
    const drawing = drawingOf(mark, height);
    const parts = drawing.parts.map((part) => partOf(part, pictures)).join("");
    return `<g opacity="${opacity * drawing.opacity}">${parts}</g>`;
  });
  return sharp(svg(size, { width: DRAWING_WIDTH, height }, marks.join("")), { unlimited: true })
    .ensureAlpha()
    .png({ compressionLevel: 2 })
    .toBuffer();
}

function partOf(part: Drawn, pictures: PutOn): string {
  if ("picture" in part) {
    const bytes = pictures.get(part.picture);
    const { x, y, width, height } = part.place;
    const href = bytes && `data:image/png;base64,${bytes.toString("base64")}`;
    return href ? `<image href="${href}" x="${x}" y="${y}" width="${width}" height="${height}"/>` : "";
  }
  const { fill, stroke = "none", width = 0 } = part;
  const look = `fill="${fill}" stroke="${stroke}" stroke-width="${width}" stroke-linecap="round" stroke-linejoin="round"`;
  if ("d" in part) return `<path d="${part.d}" transform="translate(${(part.at ?? [0, 0]).join(" ")})" ${look}/>`;
  const set = setWords(part.words, "bold", part.size);
  const x = part.at[0] - (part.middle ? set.width / 2 : 0);
  return `<path d="${set.d}" transform="translate(${x} ${part.at[1]})" ${look}/>`;
}

/** What of a layer's box is seen: white, as bright as it is whole; black outside its shape. PNG of one channel */
export async function maskPicture(size: Size, shape: Shape, opacity: number): Promise<Buffer> {
  const ground = `<rect width="100%" height="100%" fill="#000"/>`;
  const white = `<path d="${outlineOf(size, shape)}" fill="#fff" fill-opacity="${opacity}"/>`;
  return sharp(svg(size, size, ground + white))
    .removeAlpha()
    .toColourspace("b-w")
    .png({ compressionLevel: 2 })
    .toBuffer();
}

/** The line that sets a layer off from what is under it. @param width in pixels */
export async function outlinePicture(size: Size, shape: Shape, width: number): Promise<Buffer> {
  // Half of it lies outside, where nothing is seen.
  const line = `<path d="${outlineOf(size, shape)}" fill="none" stroke="#F7F5EF" stroke-opacity=".7" stroke-width="${2 * width}"/>`;
  return sharp(svg(size, size, line))
    .ensureAlpha()
    .png({ compressionLevel: 2 })
    .toBuffer();
}

function outlineOf({ width, height }: Size, shape: Shape): string {
  const r = width / 2;
  return shape === "arch" ? `M0 ${height}V${r}A${r} ${r} 0 0 1 ${width} ${r}V${height}Z` : `M0 0H${width}V${height}H0Z`;
}

/** A card that fills a frame, as PNG. */
export async function cardPicture({ style, title, name, date, next }: Card, frame: Size): Promise<Buffer> {
  const { ground, ink, paths } = CARD_LOOKS[style];
  const share = (hundredths: number) => (frame.height * hundredths) / 100;
  const [inside, room] = [frame.width * 0.09, frame.width * 0.82];
  const block = (text: string, face: Face, size: number, line: number) =>
    linesOf(text, face, size, room).map((words) => ({ words, face, size, high: size * line }));
  const blocks = [
    block(title, "heading", share(8.4), 1.15),
    block([name, date].filter(Boolean).join(", "), "words", share(4.2), 1.35),
    block(next, "bold", share(4.2), 1.35),
  ].filter((lines) => lines.length > 0);
  const gap = share(2.4);
  const high = blocks.flat().reduce((sum, line) => sum + line.high, gap * Math.max(0, blocks.length - 1));
  let y = (frame.height - high) / 2;
  const words = blocks.map((lines, i) => {
    if (i > 0) y += gap;
    return lines.map((line) => {
      // A line of letters stands a third of a letter above the middle of what is left of its height.
      const base = y + line.high / 2 + line.size * 0.34;
      y += line.high;
      return `<path d="${setWords(line.words, line.face, line.size).d}" transform="translate(${inside} ${base})"/>`;
    });
  });
  const drawn = paths.map(
    ({ d, fill = "none", stroke = "none", width = 0 }) =>
      `<path d="${d}" fill="${fill}" stroke="${stroke}" stroke-width="${width}"/>`,
  );
  const stretch = `scale(${frame.width / CARD_BOX.width} ${frame.height / CARD_BOX.height})`;
  const inner =
    `<rect width="100%" height="100%" fill="${ground}"/>` +
    `<g transform="${stretch}">${drawn.join("")}</g><g fill="${ink}">${words.flat().join("")}</g>`;
  return sharp(svg(frame, frame, inner))
    .removeAlpha()
    .png()
    .toBuffer();
}
