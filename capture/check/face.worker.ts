import { brighterOf, type FaceFigures } from "#core/check/face";
import type { Rect } from "#core/layout/layout";
import { loadSolution, type Solution } from "../vision/solution";
import type { FaceReport } from "./face-check";

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

onmessage = async ({ data: picture }: MessageEvent<ImageBitmap>) => {
  try {
    const solution = await (loading ??= load());
    const canvas = new OffscreenCanvas(picture.width, picture.height);
    const context = canvas.getContext("2d", { alpha: false, willReadFrequently: true })!;
    context.drawImage(picture, 0, 0);
    await solution.send({ image: canvas });
    tell(figuresOf(context.getImageData(0, 0, canvas.width, canvas.height).data, canvas.width));
  } catch {
    tell(null);
  } finally {
    picture.close();
  }
};

function figuresOf(pixels: Uint8ClampedArray, width: number): FaceFigures {
  const faces = found.map(({ boundingBox: { xCenter, yCenter, width, height } }): Rect => ({
    x: xCenter - width / 2,
    y: yCenter - height / 2,
    width,
    height,
  }));
  const face = faces.sort((a, b) => b.width * b.height - a.width * a.height)[0] ?? null;
  return { face, brighter: face ? brighterOf(pixels, width, face) : 0 };
}
