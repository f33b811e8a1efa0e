import type { Rect, Size } from "../layout/layout";
import { cropOf } from "../layout/area";

/** How finely a screen is recorded: at most so many lines, pictures a second. */
export interface Quality {
  height: Height;
  rate: Rate;
}

export const HEIGHTS = [480, 600, 720, 900, 1080] as const;
export type Height = (typeof HEIGHTS)[number];

/** All of them divide 60, so that every picture lies on a sixtieth of a second. */
export const RATES = [10, 15, 20, 30, 60] as const;
export type Rate = (typeof RATES)[number];

/** Pictures a second for what moves fast: a game, an animation, a hand at work. */
export const FAST_RATE = 60;
/** Faces need no more. */
const CAMERA_RATE_MOST = 30;

export const LEVELS = ["small", "even", "sharp"] as const;
export type Level = (typeof LEVELS)[number];

/** The three that have names; any other is a person's own. */
export const LEVEL_QUALITY: Record<Level, Quality> = {
  small: { height: 480, rate: 15 },
  even: { height: 720, rate: 30 },
  sharp: { height: 1080, rate: 30 },
};

export const USUAL_QUALITY: Quality = LEVEL_QUALITY.sharp;

/** The name of a quality; null for one without. */
export const levelOf = (quality: Quality): Level | null =>
  LEVELS.find((level) => {
    const { height, rate } = LEVEL_QUALITY[level];
    return height === quality.height && rate === quality.rate;
  }) ?? null;

/** What was kept of a choice, as a quality that there is. */
export function readQuality(kept: unknown): Quality {
  const { height, rate } = (kept ?? {}) as Partial<Quality>;
  const known = HEIGHTS.some((h) => h === height) && RATES.some((r) => r === rate);
  return known ? { height: height!, rate: rate! } : USUAL_QUALITY;
}

/** The frame of a quality: sixteen to nine. */
export const frameOf = ({ height }: Pick<Quality, "height">): Size => ({
  width: 2 * Math.round((height * 16) / 18),
  height,
});

/** Pictures a second of a kind of picture. */
export const rateOf = (kind: "screen" | "camera", { rate }: Quality): number =>
  kind === "screen" ? rate : Math.min(rate, CAMERA_RATE_MOST);

/**
 * The size that a whole surface is to be delivered at, so that its area is as large as the quality allows; never
 * larger than it is. The area is cut out of it afterwards, and nothing is scaled twice.
 * @param surface the surface in its own pixels
 * @param area in shares of the surface; null for all of it
 */
export function surfaceSize(surface: Size, area: Rect | null, quality: Quality): Size {
  const most = frameOf(quality);
  const seen = cropOf(surface, area);
  const scale = Math.min(1, most.width / seen.width, most.height / seen.height);
  return { width: Math.round(surface.width * scale), height: Math.round(surface.height * scale) };
}
