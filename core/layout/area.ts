import type { Rect, Size } from "./layout";

/** The smallest area that is recorded, in pixels of its surface. */
export const SMALLEST: Size = { width: 64, height: 64 };

/** Sizes that many programs and sites know, in pixels. */
export const AREA_SIZES: readonly Size[] = [
  { width: 640, height: 480 },
  { width: 800, height: 600 },
  { width: 1024, height: 768 },
  { width: 1280, height: 720 },
  { width: 1600, height: 900 },
  { width: 1920, height: 1080 },
];

/** Even numbers: pictures are kept with their colours at half the size (4:2:0). */
const even = (value: number) => 2 * Math.round(value / 2);
const between = (least: number, value: number, most: number) => Math.max(least, Math.min(value, most));

/**
 * The pixels of a picture that lie in an area: even sides at even places, inside the picture, at least 2 by 2.
 * @param area in shares of the picture; null for all of it
 */
export function cropOf(picture: Size, area: Rect | null): Rect {
  const whole = { width: Math.max(2, picture.width & ~1), height: Math.max(2, picture.height & ~1) };
  if (!area) return { x: 0, y: 0, ...whole };
  const width = between(2, even(area.width * picture.width), whole.width);
  const height = between(2, even(area.height * picture.height), whole.height);
  return {
    x: between(0, even(area.x * picture.width), whole.width - width),
    y: between(0, even(area.y * picture.height), whole.height - height),
    width,
    height,
  };
}

/**
 * An area in shares, from pixels of a surface: made even, kept inside, no smaller than the smallest.
 * @returns null where it is all of the surface
 */
export function areaOf(surface: Size, pixels: Rect): Rect | null {
  const most = { width: Math.max(2, surface.width & ~1), height: Math.max(2, surface.height & ~1) };
  const width = between(Math.min(SMALLEST.width, most.width), even(pixels.width), most.width);
  const height = between(Math.min(SMALLEST.height, most.height), even(pixels.height), most.height);
  if (width === most.width && height === most.height) return null;
  const x = between(0, even(pixels.x), most.width - width);
  const y = between(0, even(pixels.y), most.height - height);
  return {
    x: x / surface.width,
    y: y / surface.height,
    width: width / surface.width,
    height: height / surface.height,
  };
}

/** An area of this size about the middle of another. Pixels. */
export function resized({ x, y, width, height }: Rect, size: Size): Rect {
  return { x: x + (width - size.width) / 2, y: y + (height - size.height) / 2, ...size };
}

/** The same with one side changed; the other follows where the ratio is locked. Pixels. */
export function withSide(area: Rect, side: "width" | "height", value: number, locked: boolean): Rect {
  const other = side === "width" ? "height" : "width";
  return { ...area, [side]: value, [other]: locked ? (area[other] * value) / area[side] : area[other] };
}

/** A part fills its frame when the whole is laid out like this: in shares of the frame. */
export function wholeAround(area: Rect): Rect {
  return {
    x: -area.x / area.width,
    y: -area.y / area.height,
    width: 1 / area.width,
    height: 1 / area.height,
  };
}
