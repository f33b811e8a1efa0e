/** Corners are named by row and column: top or bottom, left or right. */
export const CORNERS = ["bottom-right", "bottom-left", "top-right", "top-left"] as const;
export type Corner = (typeof CORNERS)[number];
export const SIZES = ["small", "medium", "large"] as const;
export type InsetSize = (typeof SIZES)[number];

/** Where the camera picture sits over the screen. */
export interface Inset {
  corner: Corner;
  size: InsetSize;
  shown: boolean;
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

export const DEFAULT_INSET: Inset = { corner: "bottom-right", size: "medium", shown: true };

/** Width of the arch as a share of the frame's shorter side times 16/9, so it looks alike on wide and tall screens. */
const SHARE: Record<InsetSize, number> = { small: 0.13, medium: 0.19, large: 0.28 };
/** The arch is a little taller than wide: a half circle on a straight foot. */
const ARCH_HEIGHT = 1.15;
/** Distance from the frame's edge, as a share of its shorter side. */
const MARGIN = 0.03;

/**
 * The inset's rectangle in a frame of any shape, in the frame's own unit.
 * The arch's top radius is half its width.
 */
export function insetRect(frame: Size, inset: Pick<Inset, "corner" | "size">): Rect {
  const short = Math.min(frame.width, frame.height);
  const margin = short * MARGIN;
  const width = Math.min(SHARE[inset.size] * short * (16 / 9), frame.width - 2 * margin);
  const height = Math.min(width * ARCH_HEIGHT, frame.height - 2 * margin);
  return {
    x: inset.corner.endsWith("left") ? margin : frame.width - margin - width,
    y: inset.corner.startsWith("top") ? margin : frame.height - margin - height,
    width,
    height,
  };
}

/** The corner nearest to a point of the frame, for dropping a dragged picture. */
export function nearestCorner(frame: Size, x: number, y: number): Corner {
  const row = y < frame.height / 2 ? "top" : "bottom";
  return `${row}-${x < frame.width / 2 ? "left" : "right"}`;
}

/** The corner after this one, around the frame. */
export function nextCorner(corner: Corner): Corner {
  const around: readonly Corner[] = ["bottom-right", "bottom-left", "top-left", "top-right"];
  return around[(around.indexOf(corner) + 1) % around.length]!;
}

/** The largest part of a picture, about its middle, that has the shape of `target`: what `object-fit: cover` shows. */
export function coverCrop(picture: Size, target: Size): Rect {
  const scale = Math.min(picture.width / target.width, picture.height / target.height);
  const width = target.width * scale;
  const height = target.height * scale;
  return { x: (picture.width - width) / 2, y: (picture.height - height) / 2, width, height };
}
