import sharp, { type Metadata } from "sharp";
import type { Size } from "#core/layout/layout";
import { Problem } from "../http/problem";

/** The most that a picture may take as a file. Bytes */
export const PICTURE_BYTES = 5 * 1024 * 1024;
const FORMATS = ["png", "jpeg", "svg", "webp"];
/** 8000 × 6000: more than any screen has. */
const MOST_PIXELS = 48_000_000;
const SECONDS = 8;

/** How large a picture is drawn: no wider and higher than this, or exactly this size, cut around its middle. */
type Drawn = { within: number } | { fills: Size };

/**
 * A picture that somebody has sent, to be drawn anew: nothing but its colours is left of it. A drawing (SVG) is drawn
 * by librsvg, which runs no scripts and, without an address of its own, opens nothing that it names.
 * @throws {Problem} 415 for what is no picture; 422 for what is too large to be drawn
 */
export async function safePicture(bytes: Uint8Array) {
  if (bytes.length === 0) throw notAPicture();
  const pipe = sharp(bytes, { limitInputPixels: MOST_PIXELS, failOn: "error", pages: 1 }).timeout({ seconds: SECONDS });
  let metadata: Metadata;
  try {
    metadata = await pipe.metadata();
  } catch {
    throw notAPicture();
  }
  if (!FORMATS.includes(metadata.format)) throw notAPicture();
  return {
    /** @throws {Problem} 422 */
    async as(format: "webp" | "jpeg", size: Drawn): Promise<{ bytes: Buffer; width: number; height: number }> {
      try {
        // As its camera held it, and without what else a camera writes down.
        const upright = pipe.rotate();
        const drawn =
          "fills" in size
            ? upright.resize(size.fills.width, size.fills.height, { fit: "cover" })
            : upright.resize(size.within, size.within, { fit: "inside", withoutEnlargement: true });
        const made = format === "webp" ? drawn.webp({ quality: 88 }) : drawn.flatten(PAPER).jpeg({ quality: 84 });
        const { data, info } = await made.toBuffer({ resolveWithObject: true });
        return { bytes: data, width: info.width, height: info.height };
      } catch {
        throw new Problem(422, "picture-not-drawn", "This picture cannot be drawn: it is damaged, or too large.");
      }
    },
  };
}

const PAPER = { background: "#F7F5EF" };
const notAPicture = () =>
  new Problem(415, "no-picture", "This is no picture that can be taken. PNG, JPEG, WebP and SVG can.");
