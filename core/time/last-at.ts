/**
 * The last of `from … to - 1` for which something holds that holds for all before it; `from - 1` where it never does.
 * O(log n).
 */
export function lastAt(from: number, to: number, holds: (i: number) => boolean): number {
  let low = from;
  let high = to;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(middle)) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}
