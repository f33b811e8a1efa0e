/**
 * Adds a sound to what is heard already, in place. One that is mono is heard on both sides, as loud on each.
 * @param heard two channels, sample by sample
 * @param samples as many moments of `channels` channels
 * @param to by what factor of amplitude, at the end; it goes evenly there from `from`, so that nothing clicks
 */
export function mixIn(heard: Float32Array, samples: Float32Array, channels: 1 | 2, from: number, to: number): void {
  const moments = heard.length / 2;
  const step = (to - from) / moments;
  for (let i = 0; i < moments; i++) {
    const factor = from + step * (i + 1);
    heard[2 * i]! += samples[channels * i]! * factor;
    heard[2 * i + 1]! += samples[channels * i + channels - 1]! * factor;
  }
}

/**
 * A factor on its slow way to another one: two thirds of the way after a time.
 * @param seconds how long it has been on the way; `slowly` is that time
 */
export const slowlyTo = (factor: number, to: number, seconds: number, slowly: number): number =>
  to + (factor - to) * Math.exp(-seconds / slowly);
