/** A track as it travels: what describes it, and its segments. */
export interface SplitTrack {
  init: Uint8Array;
  segments: Uint8Array[];
}

/**
 * Cuts a fragmented MP4 of one track at its top-level boxes: `ftyp` and `moov` make the init segment, each `moof` with
 * its `mdat` a media segment; other
 * boxes (an index at the end) are left out. Source: ISO/IEC 14496-12, 4.2 and 8.8.
 */
export function splitTrack(file: Uint8Array): SplitTrack {
  const view = new DataView(file.buffer, file.byteOffset, file.byteLength);
  const head: Uint8Array[] = [];
  const segments: Uint8Array[] = [];
  let moof: Uint8Array | null = null;
  for (let at = 0; at + 8 <= file.length;) {
    const size = view.getUint32(at);
    if (size < 8 || at + size > file.length) throw new RangeError(`a box at ${at} does not fit its file`);
    const type = String.fromCharCode(...file.subarray(at + 4, at + 8));
    const box = file.subarray(at, at + size);
    if (type === "ftyp" || type === "moov") head.push(box);
    else if (type === "moof") moof = box;
    else if (type === "mdat" && moof) {
      segments.push(joinBytes([moof, box]));
      moof = null;
    }
    at += size;
  }
  return { init: joinBytes(head), segments };
}

/** Bytes one after the other, in a buffer of exactly their size. */
export function joinBytes(parts: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(parts.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}
