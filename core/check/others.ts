import type { Rect, Size } from "../layout/layout";
import { measure, type RangeSet } from "../time/ranges";
import type { Micros } from "../time/micros";

/** So many moments of a picture are looked at. */
export const MOST_LOOKS = 60;
/** Nearer to each other nothing new is seen. */
const EVERY_LEAST: Micros = 1_000_000;

/**
 * Moments spread over what is shown, each in the middle of an equal share of it.
 * @returns none where nothing is shown, at most `most`, in order
 */
export function spreadOver(shown: RangeSet, most = MOST_LOOKS): Micros[] {
  const length = measure(shown);
  const count = Math.min(most, Math.ceil(length / EVERY_LEAST));
  const moments: Micros[] = [];
  let before = 0;
  for (const { from, to } of shown) {
    for (; moments.length < count;) {
      const within = Math.floor(((moments.length + 0.5) * length) / count) - before;
      if (within >= to - from) break;
      moments.push(from + within);
    }
    before += to - from;
  }
  return moments;
}

/** A part is so high, of the whole picture; parts overlap by half of that, so that nobody is cut everywhere. */
const PART = 0.4;

/**
 * Parts of a screen in which a face of a window is as large as one at a desk is in a camera's picture: squares that
 * overlap, after the whole. In shares of it.
 */
export function partsOf({ width, height }: Size): Rect[] {
  const [w, h] = width >= height ? [(PART * height) / width, PART] : [PART, (PART * width) / height];
  const along = (size: number) => {
    const steps = Math.ceil((1 - size) / (size / 2));
    return Array.from({ length: steps + 1 }, (_, n) => (n * (1 - size)) / steps);
  };
  const parts = along(h).flatMap((y) => along(w).map((x) => ({ x, y, width: w, height: h })));
  return [{ x: 0, y: 0, width: 1, height: 1 }, ...parts];
}

/** So much of the smaller one of two faces lies in the other: they are one, found twice. */
const SAME = 0.4;

/** Each face once, the largest first. */
export function distinctFaces(faces: readonly Rect[]): Rect[] {
  const area = ({ width, height }: Rect) => width * height;
  const kept: Rect[] = [];
  for (const face of [...faces].sort((a, b) => area(b) - area(a)))
    if (kept.every((other) => common(face, other) < SAME * area(face))) kept.push(face);
  return kept;
}

function common(a: Rect, b: Rect): number {
  const wide = Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x);
  const high = Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y);
  return Math.max(0, wide) * Math.max(0, high);
}

/** How many faces a picture has at a moment. */
export interface FacesAt {
  of: "screen" | "camera";
  at: Micros;
  faces: number;
}

/** Somebody else is seen from one look to another. */
export interface OthersSeen {
  of: FacesAt["of"];
  from: Micros;
  to: Micros;
  /** at the most */
  faces: number;
}

/**
 * When somebody is seen who is not the presenter: any face of a screen, all but one of a camera.
 * @param looks of each picture in the order of time
 * @returns looks that follow each other as one, in the order in which they begin
 */
export function othersSeen(looks: readonly FacesAt[]): OthersSeen[] {
  const seen: OthersSeen[] = [];
  let open = null as OthersSeen | null;
  for (const { of, at, faces } of looks) {
    const others = faces > (of === "camera" ? 1 : 0);
    if (others && open?.of === of) Object.assign(open, { to: at, faces: Math.max(open.faces, faces) });
    else if (others) seen.push((open = { of, from: at, to: at, faces }));
    else open = null;
  }
  return seen.sort((a, b) => a.from - b.from);
}
