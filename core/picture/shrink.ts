/** A picture of four bytes to each sample: red, green, blue, and one that is not looked at. */
export interface Colours {
  data: Uint8Array | Uint8ClampedArray;
  width: number;
  height: number;
  /** bytes from one row to the next */
  stride: number;
}

/** So many samples of each row and column of what becomes one are looked at, at the most: more is seen by nobody. */
const LOOKS = 4;

/**
 * Makes a picture small: each sample is the mean of some that it stands for. Opaque.
 * @param to of four bytes to each sample, without anything between its rows
 */
export function shrink(from: Colours, to: { data: Uint8ClampedArray; width: number; height: number }): void {
  const columns = looks(from.width, to.width);
  const rows = looks(from.height, to.height);
  for (let y = 0, at = 0; y < to.height; y++)
    for (let x = 0; x < to.width; x++, at += 4) {
      let [red, green, blue] = [0, 0, 0];
      for (const row of rows[y]!)
        for (const column of columns[x]!) {
          const i = row * from.stride + column * 4;
          red += from.data[i]!;
          green += from.data[i + 1]!;
          blue += from.data[i + 2]!;
        }
      const count = rows[y]!.length * columns[x]!.length;
      to.data[at] = red / count;
      to.data[at + 1] = green / count;
      to.data[at + 2] = blue / count;
      to.data[at + 3] = 255;
    }
}

/** For each of `few` places, which of `many` are looked at. */
function looks(many: number, few: number): number[][] {
  return Array.from({ length: few }, (_, n) => {
    const [begin, end] = [Math.floor((n * many) / few), Math.max(Math.floor(((n + 1) * many) / few), 1)];
    const count = Math.max(1, Math.min(LOOKS, end - begin));
    return Array.from({ length: count }, (_, i) =>
      Math.min(many - 1, begin + Math.floor(((i + 0.5) * (end - begin)) / count)),
    );
  });
}
