/**
 * Planes of samples as one interleaved block at another rate: channels mixed or doubled, rates brought over by linear
 * interpolation (enough for speech; devices nearly always deliver the rate that is asked for).
 *
 * @param planes one for each channel that there is, of equal length, −1…1
 * @param from samples a second of the planes
 * @param to samples a second of the result
 * @param channels of the result
 */
export function interleave(
  planes: readonly Float32Array[],
  from: number,
  to: number,
  channels: number,
): Float32Array<ArrayBuffer> {
  const given = planes[0]?.length ?? 0;
  const length = Math.round((given * to) / from);
  const out = new Float32Array(length * channels);
  const mono = channels === 1;
  for (let c = 0; c < planes.length; c++) {
    const plane = planes[c]!;
    // Mixed down: every plane adds its share. Otherwise a plane fills the channels that have no plane of their own.
    const targets = mono ? [0] : Array.from({ length: channels }, (_, t) => t);
    const gain = mono ? 1 / planes.length : 1;
    for (const target of targets) {
      if (!mono && Math.min(target, planes.length - 1) !== c) continue;
      if (from === to) {
        for (let i = 0, at = target; i < length; i++, at += channels) out[at]! += plane[i]! * gain;
        continue;
      }
      for (let i = 0, at = target; i < length; i++, at += channels) {
        const place = (i * from) / to;
        const low = Math.min(given - 1, Math.floor(place));
        const high = Math.min(given - 1, low + 1);
        out[at]! += (plane[low]! + (plane[high]! - plane[low]!) * (place - low)) * gain;
      }
    }
  }
  return out;
}
