import { plainSvg } from "#core/picture/plain-svg";
import { Problem } from "../http/problem";
import { Turns } from "../turns";
import { draw, type DrawnPicture, type Wanted } from "./draw";

/** The most that a picture may take as a file. Bytes */
export const PICTURE_BYTES = 5 * 1024 * 1024;
/** The same of a drawing, whose every word may be work. */
const DRAWING_BYTES = 512 * 1024;

/** Decoding takes a processor for up to some seconds: one at once, and whoever sends many waits for themselves. */
const turns = new Turns({
  atOnce: 1,
  waitingOfOne: 20,
  // What waits is held in memory, each up to 5 MB.
  waiting: 40,
  busy: "Very many pictures are being drawn at this moment. Send it again in a few seconds.",
});

/**
 * A picture that somebody has sent, drawn anew by a process of its own under limits: nothing but its colours is left of
 * it. Of a drawing (SVG) only shapes and words are drawn.
 * @param by whose it is
 * @throws {Problem} 415 for what is no picture; 422 for what is too large to be drawn; 503 where too many wait
 */
export async function safePicture(
  sent: Uint8Array,
  format: Wanted["format"],
  size: Wanted["size"],
  by: string,
): Promise<DrawnPicture> {
  if (sent.length === 0) throw notAPicture();
  const drawing = isDrawing(sent);
  if (drawing && sent.length > DRAWING_BYTES) throw notDrawn();
  const drawn = await turns.take({ one: by }, () => {
    // Read in its turn as well: a drawing is some milliseconds of work for everybody.
    const bytes = drawing ? plainDrawing(sent) : sent;
    return draw(bytes, { drawing, format, size });
  });
  if ("problem" in drawn) throw drawn.problem === "no-picture" ? notAPicture() : notDrawn();
  return drawn;
}

/** A drawing begins with a tag; every other picture with bytes that are no text. */
function isDrawing(sent: Uint8Array): boolean {
  const start = Buffer.from(sent.subarray(0, 200)).toString("utf8");
  return /^\ufeff?\s*</.test(start);
}

function plainDrawing(sent: Uint8Array): Uint8Array {
  try {
    return Buffer.from(plainSvg(new TextDecoder("utf-8", { fatal: true }).decode(sent)));
  } catch (error) {
    // Not UTF-8 (TypeError), or no drawing.
    if (error instanceof RangeError || error instanceof TypeError) throw notAPicture();
    throw error;
  }
}

const notAPicture = () =>
  new Problem(415, "no-picture", "This is no picture that can be taken. PNG, JPEG, WebP and SVG can.");
const notDrawn = () =>
  new Problem(422, "picture-not-drawn", "This picture cannot be drawn: it is damaged, or too large.");
