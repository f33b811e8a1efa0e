/** How many channels a sound has. */
export type Channels = 1 | 2;

/**
 * Adds a sound to what is heard already, in place. One that is mono is heard on both sides, as loud on each.
 * @param heard sample by sample; of one channel only where all that is added is mono
 * @param samples as many moments
 * @param to by what factor of amplitude, at the end; it goes evenly there from `from`, so that nothing clicks
 */
export function mixIn(
  heard: { samples: Float32Array; channels: Channels },
  { samples, channels }: { samples: Float32Array; channels: Channels },
  from: number,
  to: number,
): void {
  const moments = heard.samples.length / heard.channels;
  const step = (to - from) / moments;
  for (let i = 0; i < moments; i++) {
    const factor = from + step * (i + 1);
    for (let c = 0; c < heard.channels; c++)
      heard.samples[heard.channels * i + c]! += samples[channels * i + Math.min(c, channels - 1)]! * factor;
  }
}

/** A sound of one channel as one of two, as loud on each side. */
export function onBothSides(mono: Float32Array): Float32Array {
  const both = new Float32Array(2 * mono.length);
  for (let i = 0; i < mono.length; i++) both[2 * i] = both[2 * i + 1] = mono[i]!;
  return both;
}

/**
 * A factor on its slow way to another one: two thirds of the way after a time.
 * @param seconds how long it has been on the way; `slowly` is that time
 */
export const slowlyTo = (factor: number, to: number, seconds: number, slowly: number): number =>
  to + (factor - to) * Math.exp(-seconds / slowly);
