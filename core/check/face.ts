import type { Rect } from "../layout/layout";
import type { CheckLine } from "./verdicts";

/** What was found of a face in a picture. */
export interface FaceFigures {
  /** from the brow to the chin, in shares of the picture, the largest where there are several; null for none */
  face: Rect | null;
  /** how much brighter the face is than what is around it, mean luma of 0 to 1; 0 without a face */
  brighter: number;
}

/** Around a face there is what is behind somebody, and hair: so much is looked at, in its own size. */
const AROUND = 0.8;

/**
 * How much brighter a face is than what is around it, after ITU-R BT.709.
 * @param pixels R, G, B and A of each, 8 bits, row by row
 * @param width of the picture, in pixels
 */
export function brighterOf(pixels: Uint8ClampedArray, width: number, face: Rect): number {
  const height = pixels.length / 4 / width;
  const sums = { face: 0, around: 0 };
  const counts = { face: 0, around: 0 };
  const margin = { x: AROUND * face.width, y: AROUND * face.height };
  for (let row = 0; row < height; row++) {
    const y = (row + 0.5) / height;
    if (y < face.y - margin.y || y > face.y + face.height) continue;
    for (let column = 0; column < width; column++) {
      const x = (column + 0.5) / width;
      if (x < face.x - margin.x || x > face.x + face.width + margin.x) continue;
      const i = 4 * (row * width + column);
      const luma = (0.2126 * pixels[i]! + 0.7152 * pixels[i + 1]! + 0.0722 * pixels[i + 2]!) / 255;
      const isFace = y >= face.y && x >= face.x && x <= face.x + face.width;
      sums[isFace ? "face" : "around"] += luma;
      counts[isFace ? "face" : "around"]++;
    }
  }
  if (counts.face === 0 || counts.around === 0) return 0;
  return sums.face / counts.face - sums.around / counts.around;
}

/** How tall a face is in a picture that one is looked at in. Shares; common practice, no published source. */
const TALL = { least: 0.16, most: 0.6 } as const;
/** What is free above the brow: hair, and a little more. Shares; common practice, no published source. */
const ABOVE = { least: 0.06, most: 0.4 } as const;
/** Where the middle of a face is, from left to right. Shares; common practice, no published source. */
const MIDDLE = { least: 0.25, most: 0.75 } as const;
/** Mean luma that sets a face apart. Common practice, no published source. */
const APART = { darker: -0.2, alike: 0.015 } as const;

/** @param figures null while nothing was looked at */
export function faceLines(figures: FaceFigures | null): CheckLine[] {
  if (!figures) return [{ name: "Framing", value: "looking", verdict: "waiting", mend: null }];
  const { face } = figures;
  if (!face)
    return [
      { name: "Framing", value: "no face is seen", verdict: "fair", mend: "Sit in front of the camera, facing it." },
    ];
  return [framingLine(face), contrastLine(figures.brighter)];
}

function framingLine({ x, y, width, height }: Rect): CheckLine {
  const percent = (share: number) => `${Math.round(100 * Math.max(0, share))} %`;
  const line = { name: "Framing", value: `face ${percent(height)} tall, ${percent(y)} free above it` };
  const isCut = x < 0 || y < 0 || x + width > 1 || y + height > 1;
  if (isCut) return { ...line, verdict: "bad", mend: "Your face is cut off. Move into the middle of the picture." };
  if (height > TALL.most) return { ...line, verdict: "fair", mend: "You are very near. Sit back a little." };
  if (height < TALL.least)
    return { ...line, verdict: "fair", mend: "You are small in the picture. Come closer, or choose “Nearer”." };
  if (y < ABOVE.least)
    return { ...line, verdict: "fair", mend: "There is no room above your head. Tilt the camera up, or sit lower." };
  if (y > ABOVE.most)
    return { ...line, verdict: "fair", mend: "There is much room above your head. Tilt the camera down." };
  const middle = x + width / 2;
  if (middle < MIDDLE.least || middle > MIDDLE.most)
    return { ...line, verdict: "fair", mend: "You are at the side of the picture. Turn the camera towards you." };
  return { ...line, verdict: "good", mend: null };
}

function contrastLine(brighter: number): CheckLine {
  const points = Math.round(100 * Math.abs(brighter));
  const line = {
    name: "Contrast",
    value: `your face is ${points} % ${brighter < 0 ? "darker" : "brighter"} than what is around it`,
  };
  if (brighter < APART.darker)
    return { ...line, verdict: "fair", mend: "The light is behind you. Turn round, or put a lamp behind the screen." };
  if (Math.abs(brighter) < APART.alike)
    return {
      ...line,
      verdict: "fair",
      mend: "You hardly stand out. Put a lamp in front of you, or blur what is behind.",
    };
  return { ...line, verdict: "good", mend: null };
}
