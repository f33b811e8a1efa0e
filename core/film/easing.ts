/** How far something has come, 0 to 1, after a share of its time. */
export type Easing = (share: number) => number;

const STEPS = 40;

/**
 * `cubic-bezier(x1, y1, x2, y2)` of CSS Easing Functions Level 1 (W3C), 2.2: its output at an input progress.
 */
export function cubicBezier(x1: number, y1: number, x2: number, y2: number): Easing {
  const along = (a: number, b: number, t: number) => 3 * (1 - t) ** 2 * t * a + 3 * (1 - t) * t ** 2 * b + t ** 3;
  return (share) => {
    if (share <= 0) return 0;
    if (share >= 1) return 1;
    // The curve never goes back in x, so halving finds its place.
    let [low, high] = [0, 1];
    for (let i = 0; i < STEPS; i++) {
      const middle = (low + high) / 2;
      if (along(x1, x2, middle) < share) low = middle;
      else high = middle;
    }
    return along(y1, y2, low);
  };
}

/** As pages move what is arranged anew (`ease`), and lead the eye to a place (`ease-in-out`). */
export const EASE = cubicBezier(0.25, 0.1, 0.25, 1);
export const EASE_IN_OUT = cubicBezier(0.42, 0, 0.58, 1);
