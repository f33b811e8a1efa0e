/** How a picture is lit. Shares are 0 to 1. */
export interface LightFigures {
  /** mean luma */
  mean: number;
  /** of the picture, so bright that nothing can be told apart in it */
  blown: number;
  /** of the picture, so dark that nothing can be told apart in it */
  black: number;
}

/** From here on, and down to there, a pixel of 8 bits is at its end. Common practice, no published source. */
const BLOWN = 250;
const BLACK = 10;

/**
 * Luma after ITU-R BT.709 (0.2126 R + 0.7152 G + 0.0722 B) of a picture.
 * @param pixels R, G, B and A of each, 8 bits; one pixel at the least
 * @throws {RangeError} for a picture without pixels
 */
export function lightOf(pixels: Uint8ClampedArray): LightFigures {
  const count = pixels.length / 4;
  if (count < 1) throw new RangeError("a picture has one pixel at the least");
  let sum = 0;
  let blown = 0;
  let black = 0;
  for (let i = 0; i < pixels.length; i += 4) {
    const luma = 0.2126 * pixels[i]! + 0.7152 * pixels[i + 1]! + 0.0722 * pixels[i + 2]!;
    sum += luma;
    if (luma >= BLOWN) blown++;
    if (luma <= BLACK) black++;
  }
  return { mean: sum / count / 255, blown: blown / count, black: black / count };
}
