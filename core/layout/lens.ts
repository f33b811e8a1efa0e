import type { Rect } from "./layout";

/** What is made of a camera's picture before anything else sees it. */
export interface Lens {
  /** how much nearer, in hundredths: 100 is all of the picture */
  zoom: number;
  /** where in the picture, in hundredths of what is left over: 50 is its middle */
  x: number;
  y: number;
  /** what is behind the person is blurred */
  blurs: boolean;
  /** recorded as in a mirror */
  flips: boolean;
}

/** The picture as it comes. */
export const USUAL_LENS: Lens = { zoom: 100, x: 50, y: 50, blurs: false, flips: false };
export const MOST_ZOOM = 300;

/** The picture goes on as it came. */
export const isClear = ({ zoom, blurs, flips }: Lens): boolean => zoom === 100 && !blurs && !flips;

/** The part of the picture that is seen, in shares of it; null for all of it. Its shape is that of the picture. */
export function lensArea({ zoom, x, y }: Pick<Lens, "zoom" | "x" | "y">): Rect | null {
  if (zoom <= 100) return null;
  const side = 100 / zoom;
  return { x: ((1 - side) * x) / 100, y: ((1 - side) * y) / 100, width: side, height: side };
}

const hundredths = (kept: unknown, least: number, most: number, usual: number): number =>
  typeof kept === "number" && Number.isInteger(kept) && kept >= least && kept <= most ? kept : usual;

/** A lens that was kept, by this version or another, field by field. */
export function readLens(kept: unknown): Lens {
  const of = (kept ?? {}) as Partial<Record<keyof Lens, unknown>>;
  return {
    zoom: hundredths(of.zoom, 100, MOST_ZOOM, USUAL_LENS.zoom),
    x: hundredths(of.x, 0, 100, USUAL_LENS.x),
    y: hundredths(of.y, 0, 100, USUAL_LENS.y),
    blurs: of.blurs === true,
    flips: of.flips === true,
  };
}
