import type { Size } from "../layout/layout";
import { frameOf, rateOf, type Quality } from "./quality";
import { isPicture, type TrackKind } from "./tracks";

/** What sound is encoded at, in bits a second, at the most. */
export const SOUND_BITS = { microphone: 96_000, sound: 128_000 } as const;

/** What pictures are encoded at, at one size and rate. Bits a second. */
const PICTURE_BITS = {
  screen: { bits: 2_500_000, width: 1920, height: 1080, rate: 30 },
  camera: { bits: 700_000, width: 640, height: 480, rate: 30 },
} as const;

/**
 * What a picture is encoded at, in bits a second. Larger and faster pictures have more in common with their
 * neighbours: it grows with the root of the pixels a second (common practice, no published source).
 */
export function pictureBits(kind: "screen" | "camera", size: Size, rate: number): number {
  const known = PICTURE_BITS[kind];
  const pixels = (size.width * size.height * rate) / (known.width * known.height * known.rate);
  return Math.round(known.bits * Math.sqrt(pixels));
}

/** A camera that is all there is to see is recorded larger than one in a corner. */
export const cameraSize = (quality: Quality, sole: boolean): Size =>
  sole ? frameOf({ height: quality.height > 720 ? 720 : quality.height }) : { width: 640, height: 480 };

/** What these tracks are encoded at together at the most, in bits a second. */
export function bitsASecond(kinds: readonly TrackKind[], quality: Quality): number {
  const of = (kind: TrackKind) =>
    !isPicture(kind)
      ? SOUND_BITS[kind]
      : pictureBits(
          kind,
          kind === "screen" ? frameOf(quality) : cameraSize(quality, !kinds.includes("screen")),
          rateOf(kind, quality),
        );
  return kinds.reduce((sum, kind) => sum + of(kind), 0);
}

/** What a minute of these tracks takes at the most, in bytes. */
export const bytesAMinute = (kinds: readonly TrackKind[], quality: Quality): number =>
  (bitsASecond(kinds, quality) * 60) / 8;

/** How much the newest take counts in what is known of all. */
const NEWEST = 0.4;
/** A take shorter than this tells nothing of a minute. Seconds. */
const SHORTEST = 10;

/**
 * What share of the most is really produced, learnt from take to take: a still screen makes little.
 * @param known the share so far; 1 where nothing is known
 * @param newest the newest take: its bytes, in so many seconds, and the bytes a minute that were allowed for
 */
export function learnt(known: number, newest: { bytes: number; seconds: number; most: number }): number {
  const { bytes, seconds, most } = newest;
  if (!(seconds >= SHORTEST) || !(most > 0)) return known;
  const share = (60 * bytes) / seconds / most;
  const next = known === 1 ? share : known + NEWEST * (share - known);
  return Math.max(0.02, Math.min(1, next));
}
