import type { Size } from "../layout/layout";

/** What stands under the picture of an embed: the player's controls, and a line about it. Pixels. */
const UNDER = 119;
/** A recording of sound alone has a picture of its own. */
const SOUND_ONLY: Size = { width: 16, height: 5 };
/** Narrower than this nothing can be pressed any more. */
const LEAST: Size = { width: 280, height: 240 };

export const EMBED_WIDTHS = { small: 400, medium: 640, large: 960 } as const;
export type EmbedWidth = keyof typeof EMBED_WIDTHS;

/**
 * How large an embed is that shows a picture of such a shape without bars about it.
 * @param width pixels
 * @param most what the page allows; it is kept, but for what is too small to be used
 */
export function embedSize(frame: Size | null, width: number, most: Partial<Size> = {}): Size {
  const { width: w, height: h } = frame ?? SOUND_ONLY;
  const wide = Math.max(LEAST.width, Math.min(width, most.width ?? Infinity));
  const high = Math.round((wide * h) / w) + UNDER;
  if (high <= (most.height ?? Infinity)) return { width: wide, height: Math.max(high, LEAST.height) };
  const height = Math.max(LEAST.height, most.height!);
  return { width: Math.max(LEAST.width, Math.min(wide, Math.round(((height - UNDER) * w) / h))), height };
}
