import type { InitInfo } from "./init";

/** More units than any frame has: one for each slice, and a handful besides. */
const MOST_UNITS = 1_000;

/**
 * Can this sample be of the track's codec? Not a decoder's answer, but one that tells codecs apart: H.264 units fill
 * the sample exactly (ISO/IEC 14496-15), VP9 frames begin with the marker 2 (VP9 bitstream, 6.2), an Opus packet holds
 * 2.5 to 120 ms (RFC 6716, 3), and an AAC frame begins with an element of one of eight kinds and is at most 6,144 bits
 * for each channel (ISO/IEC 14496-3, 4.4.2.1 and 4.5.3), of which a raw one never begins with the end element.
 */
export function looksLike(sample: Uint8Array, { codec, nalLengthBytes, channels }: InitInfo): boolean {
  if (sample.length === 0) return false;
  if (codec.startsWith("avc")) return isUnits(sample, nalLengthBytes);
  if (codec.startsWith("vp09")) return sample[0]! >> 6 === 2;
  if (codec === "opus") return opusMillis(sample) <= 120 && sample.length <= 1276 * 6;
  if (codec.startsWith("mp4a")) return sample[0]! >> 5 !== 7 && sample.length <= 768 * channels;
  return true;
}

function isUnits(sample: Uint8Array, lengthBytes: number): boolean {
  let at = 0;
  for (let n = 0; at + lengthBytes < sample.length; n++) {
    if (n === MOST_UNITS) return false;
    let length = 0;
    for (let i = 0; i < lengthBytes; i++) length = length * 256 + sample[at + i]!;
    if (length === 0 || sample[at + lengthBytes]! & 0x80) return false;
    at += lengthBytes + length;
  }
  return at === sample.length;
}

/** How long an Opus packet sounds, ms. Source: RFC 6716, table 2 and section 3.2. */
function opusMillis(packet: Uint8Array): number {
  const config = packet[0]! >> 3;
  const frame =
    config < 12 ? [10, 20, 40, 60][config % 4]! : config < 16 ? [10, 20][config % 2]! : [2.5, 5, 10, 20][config % 4]!;
  const code = packet[0]! & 3;
  const count = code === 0 ? 1 : code < 3 ? 2 : (packet[1] ?? 0) & 63;
  return count === 0 ? Infinity : frame * count;
}
