import type { Folded } from "./fold";

/** "CNF" and the version of this form. */
const MAGIC = 0x434e4601;
const HEADER = 4;

/** What was folded, as bytes to keep: little-endian 32-bit words. */
export function packFolded({ viewers, first, from, to, plays }: Folded): Uint8Array {
  const words = new Uint32Array(HEADER + first.length + from.length + to.length + plays.at.length + plays.count.length);
  words.set([MAGIC, viewers, from.length, plays.at.length]);
  let at = HEADER;
  for (const part of [first, from, to, plays.at, plays.count]) {
    words.set(part, at);
    at += part.length;
  }
  return new Uint8Array(words.buffer);
}

/** @throws {RangeError} for bytes that are nothing of this kind */
export function unpackFolded(bytes: Uint8Array): Folded {
  // A copy where the bytes do not start on a whole word.
  const aligned = bytes.byteOffset % 4 === 0 ? bytes : bytes.slice();
  const words = new Uint32Array(aligned.buffer, aligned.byteOffset, aligned.byteLength >> 2);
  const [magic, viewers = 0, rows = 0, steps = 0] = words;
  if (magic !== MAGIC || words.length !== HEADER + viewers + 1 + 2 * rows + 2 * steps)
    throw new RangeError("these bytes are no folded spans");
  let at = HEADER;
  const next = (length: number) => words.slice(at, (at += length));
  return {
    viewers,
    first: next(viewers + 1),
    from: next(rows),
    to: next(rows),
    plays: { at: next(steps), count: new Int32Array(next(steps)) },
  };
}
