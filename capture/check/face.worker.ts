import { brighterOf } from "#core/check/face";
import { distinctFaces } from "#core/check/others";
import type { Rect } from "#core/layout/layout";
import { loadSolution, type Solution } from "../vision/solution";
import type { FaceReport, FaceWish } from "./face-finder";

interface Found {
  /** shares of the picture */
  detections: { boundingBox: { xCenter: number; yCenter: number; width: number; height: number } }[];
}

const FOLDER = "/vision/face_detection";
const tell = (report: FaceReport) => postMessage(report);

let loading: Promise<Solution<Found>> | null = null;
let found: Found["detections"] = [];

async function load(): Promise<Solution<Found>> {
  // For faces at a desk: up to two metres away.
  const solution = await loadSolution<Found>("FaceDetection", FOLDER, { model: "short" });
  solution.onResults(({ detections }) => (found = detections));
  return solution;
}

/** Pictures are no wider than this where they are looked at: what finds faces takes 128 × 128. */
const WIDEST = 256;

onmessage = async ({ data: { picture, parts } }: MessageEvent<FaceWish>) => {
  try {
    const solution = await (loading ??= load());
    const faces: Rect[] = [];
    for (const part of parts) {
      const canvas = cut(picture, part);
      await solution.send({ image: canvas });
      faces.push(...found.map(({ boundingBox }) => within(part, boundingBox)));
    }
    const distinct = distinctFaces(faces);
    const face = distinct[0] ?? null;
    tell({ faces: distinct, face, brighter: face ? brighterIn(picture, face) : 0 });
  } catch {
    tell(null);
  } finally {
    picture.close();
  }
};

function cut(picture: ImageBitmap, part: Rect): OffscreenCanvas {
  const [width, height] = [part.width * picture.width, part.height * picture.height];
  const scale = Math.min(1, WIDEST / width);
  const canvas = new OffscreenCanvas(Math.round(width * scale), Math.round(height * scale));
  const context = canvas.getContext("2d", { alpha: false, willReadFrequently: true })!;
  const [x, y] = [part.x * picture.width, part.y * picture.height];
  context.drawImage(picture, x, y, width, height, 0, 0, canvas.width, canvas.height);
  return canvas;
}

/** From shares of a part to shares of the picture. */
function within(part: Rect, { xCenter, yCenter, width, height }: Found["detections"][0]["boundingBox"]): Rect {
  return {
    x: part.x + (xCenter - width / 2) * part.width,
    y: part.y + (yCenter - height / 2) * part.height,
    width: width * part.width,
    height: height * part.height,
  };
}

function brighterIn(picture: ImageBitmap, face: Rect): number {
  const canvas = cut(picture, { x: 0, y: 0, width: 1, height: 1 });
  const pixels = canvas.getContext("2d")!.getImageData(0, 0, canvas.width, canvas.height).data;
  return brighterOf(pixels, canvas.width, face);
}
