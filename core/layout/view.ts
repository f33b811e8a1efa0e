import type { Micros } from "../time/micros";
import type { Rect, Size } from "./layout";

/** Which way up a picture is turned, in degrees clockwise. */
export const TURNS = [0, 90, 180, 270] as const;
export type Turn = (typeof TURNS)[number];

/** What of a picture is shown, and which way up. */
export interface View {
  turn: Turn;
  /** by how much it is straightened, in degrees clockwise; so much nearer that no corner is empty */
  tilt: number;
  /** the part that is shown, in shares of the picture as it is turned */
  crop: Rect;
}

/** The most that a picture is straightened. Degrees */
export const MOST_TILT = 15;
/** No smaller part of a picture is shown: a share of each side. */
export const LEAST_SIDE = 0.05;

/** How long the eye is led to a place that fills the frame, and back. */
export const ZOOM_TAKES: Micros = 700_000;

export const WHOLE: Rect = { x: 0, y: 0, width: 1, height: 1 };
export const AS_IT_IS: View = { turn: 0, tilt: 0, crop: WHOLE };

/** A picture's shape as it is turned. */
export const turnedSize = ({ width, height }: Size, turn: Turn): Size =>
  turn % 180 === 0 ? { width, height } : { width: height, height: width };

/** How much nearer a straightened picture is, so that it fills its rectangle. */
export function nearerBy({ width, height }: Size, tilt: number): number {
  const angle = (Math.abs(tilt) * Math.PI) / 180;
  return Math.cos(angle) + Math.sin(angle) * Math.max(width / height, height / width);
}

/**
 * Where the whole of a turned picture lies, so that the part that is shown fits a box, or covers it, about its middle.
 * @returns in shares of the box
 */
export function fitted(picture: Size, { turn, crop }: Pick<View, "turn" | "crop">, box: Size, how: "fit" | "cover") {
  const turned = turnedSize(picture, turn);
  const part = { width: crop.width * turned.width, height: crop.height * turned.height };
  const [wide, high] = [box.width / part.width, box.height / part.height];
  const scale = how === "fit" ? Math.min(wide, high) : Math.max(wide, high);
  const width = (turned.width * scale) / box.width;
  const height = (turned.height * scale) / box.height;
  const x = 0.5 - (crop.x + crop.width / 2) * width;
  const y = 0.5 - (crop.y + crop.height / 2) * height;
  return { x, y, width, height };
}

/**
 * The place that fills a picture's frame, of the frame's shape: about the middle of what was chosen, as large as that,
 * and inside. All in shares of the frame.
 */
export function placeToFill({ x, y, width, height }: Rect): Rect {
  const side = Math.min(1, Math.max(LEAST_SIDE, width, height));
  const inside = (at: number) => Math.max(0, Math.min(1 - side, at));
  return { x: inside(x + (width - side) / 2), y: inside(y + (height - side) / 2), width: side, height: side };
}

export const isAsItIs = ({ turn, tilt, crop }: View): boolean =>
  turn === 0 && tilt === 0 && crop.x === 0 && crop.y === 0 && crop.width === 1 && crop.height === 1;
