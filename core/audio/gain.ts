/** How far a microphone is turned up or down at the most, in dB. */
export const GAIN = { least: -12, most: 18 } as const;
/** What a limit of −1 dBTP leaves for the encoder (EBU R 128, from memory). */
const PEAK_MOST = -1;

/** A gain in dB as a factor of amplitude. */
export const factorOf = (decibels: number): number => 10 ** (decibels / 20);

/**
 * The gain that brings a voice to a loudness, in whole dB: as much as its peaks allow.
 * @param voice what was measured: integrated LUFS and dBTP; −∞ for silence
 * @param target LUFS
 */
export function gainTowards(voice: { loudness: number; peak: number }, target: number): number {
  if (!Number.isFinite(voice.loudness)) return 0;
  const wanted = Math.round(target - voice.loudness);
  const allowed = Number.isFinite(voice.peak) ? Math.floor(PEAK_MOST - voice.peak) : wanted;
  // What is too loud already is turned down as far as it takes.
  const gain = wanted > 0 ? Math.max(0, Math.min(wanted, allowed)) : wanted;
  return Math.max(GAIN.least, Math.min(GAIN.most, gain));
}

/**
 * Samples at another gain, in place. What would go beyond full scale stays at it.
 * @param from the gain before: it goes evenly from that to this, so that nothing clicks
 */
export function amplify(samples: Float32Array, factor: number, from = factor): void {
  if (factor === 1 && from === 1) return;
  const step = (factor - from) / samples.length;
  for (let i = 0; i < samples.length; i++)
    samples[i] = Math.max(-1, Math.min(1, samples[i]! * (from + step * (i + 1))));
}
