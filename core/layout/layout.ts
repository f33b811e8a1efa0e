/** The grid of places in a frame, three by three, row by row. */
export const PLACES = [
  "top-left",
  "top",
  "top-right",
  "left",
  "middle",
  "right",
  "bottom-left",
  "bottom",
  "bottom-right",
] as const;
export type Place = (typeof PLACES)[number];
export const SIZES = ["small", "medium", "large"] as const;
export type InsetSize = (typeof SIZES)[number];

/** What is seen: the camera over the screen, beside it, or one of them alone. */
export const SCENE_KINDS = ["inset", "beside", "camera", "screen"] as const;
export type SceneKind = (typeof SCENE_KINDS)[number];

/** How a presenter arranges screen and camera. */
export interface Arrangement {
  scene: SceneKind;
  /** of the camera picture; beside the screen only its side counts */
  place: Place;
  size: InsetSize;
}

export interface Size {
  width: number;
  height: number;
}

export interface Rect {
  x: number;
  y: number;
  width: number;
  height: number;
}

export const USUAL_ARRANGEMENT: Arrangement = { scene: "inset", place: "bottom-right", size: "medium" };

/** Width of the arch as a share of the frame's shorter side times 16/9, so it looks alike on wide and tall screens. */
const SHARE: Record<InsetSize, number> = { small: 0.13, medium: 0.19, large: 0.28 };
/** The arch is a little taller than wide: a half circle on a straight foot. */
export const ARCH_HEIGHT = 1.15;
/** A tile has the shape that most cameras give. */
export const TILE_HEIGHT = 0.75;
/** Distance from the frame's edge, as a share of its shorter side. */
const MARGIN = 0.03;

/** How far from a frame's edge a picture in it stays, in the frame's own unit. */
export const marginOf = (frame: Size): number => MARGIN * Math.min(frame.width, frame.height);

/**
 * The inset's rectangle in a frame of any shape, in the frame's own unit.
 * The arch's top radius is half its width.
 */
export function insetRect(
  frame: Size,
  { place, size }: Pick<Arrangement, "place" | "size">,
  tall: number = ARCH_HEIGHT,
): Rect {
  const short = Math.min(frame.width, frame.height);
  const margin = marginOf(frame);
  const width = Math.min(SHARE[size] * short * (16 / 9), frame.width - 2 * margin);
  const height = Math.min(width * tall, frame.height - 2 * margin);
  const { column, row } = onGrid(place);
  return {
    x: margin + (column / 2) * (frame.width - 2 * margin - width),
    y: margin + (row / 2) * (frame.height - 2 * margin - height),
    width,
    height,
  };
}

/** Width of the camera picture that stands beside a screen, as a share of the frame's. */
const BESIDE: Record<InsetSize, number> = { small: 0.16, medium: 0.22, large: 0.3 };

/** A screen and a camera picture side by side in a frame of the screen's shape: nothing of the screen is covered. */
export function besideRects(
  frame: Size,
  { place, size }: Pick<Arrangement, "place" | "size">,
  tall: number = ARCH_HEIGHT,
) {
  const gap = marginOf(frame);
  const width = BESIDE[size] * frame.width;
  const height = Math.min(width * tall, frame.height - 2 * gap);
  const scale = (frame.width - width - 3 * gap) / frame.width;
  const screen = { width: frame.width * scale, height: frame.height * scale };
  const isLeft = sideOf(place) === "left";
  const middle = (h: number) => (frame.height - h) / 2;
  return {
    screen: { x: isLeft ? 2 * gap + width : gap, y: middle(screen.height), ...screen },
    camera: { x: isLeft ? gap : 2 * gap + screen.width, y: middle(height), width, height },
  };
}

/** Column and row of a place, 0 to 2. */
export function onGrid(place: Place): { column: number; row: number } {
  const at = PLACES.indexOf(place);
  return { column: at % 3, row: Math.floor(at / 3) };
}

/** The side of a frame on which a picture at this place stands beside another. */
export const sideOf = (place: Place): "left" | "right" => (onGrid(place).column === 0 ? "left" : "right");

/** The place nearest to a point of the frame, for dropping a dragged picture. */
export function nearestPlace(frame: Size, x: number, y: number): Place {
  const third = (share: number) => Math.max(0, Math.min(2, Math.floor(3 * share)));
  return PLACES[3 * third(y / frame.height) + third(x / frame.width)]!;
}

/** The corner after this place, around the frame. */
export function nextCorner(place: Place): Place {
  const around: readonly Place[] = ["bottom-right", "bottom-left", "top-left", "top-right"];
  return around[(around.indexOf(place) + 1) % around.length]!;
}

/** The scene after this one. */
export const nextScene = (scene: SceneKind): SceneKind =>
  SCENE_KINDS[(SCENE_KINDS.indexOf(scene) + 1) % SCENE_KINDS.length]!;

/** The largest part of a picture, about its middle, that has the shape of `target`: what `object-fit: cover` shows. */
export function coverCrop(picture: Size, target: Size): Rect {
  const scale = Math.min(picture.width / target.width, picture.height / target.height);
  const width = target.width * scale;
  const height = target.height * scale;
  return { x: (picture.width - width) / 2, y: (picture.height - height) / 2, width, height };
}
