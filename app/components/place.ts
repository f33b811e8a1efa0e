import type { Rect } from "#core/layout/layout";

const percent = (share: number) => `${100 * share}%`;

/** A rectangle in shares of the frame, as the style of what lies in it. */
export const placeStyle = ({ x, y, width, height }: Rect) => ({
  left: percent(x),
  top: percent(y),
  width: percent(width),
  height: percent(height),
});
