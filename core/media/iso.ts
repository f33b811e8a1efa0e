import { joinBytes } from "./split";

/**
 * The boxes of ISO base media files (ISO/IEC 14496-12, 4.2), as far as one track in fragments needs them. Whoever sends
 * these bytes may be hostile: nothing here reads further, or more often, than a real segment makes it.
 */

/** The bytes are not what they should be. The message says what was found, in words fit for an API answer. */
export class MediaError extends Error {
  constructor(message: string) {
    super(message);
    this.name = "MediaError";
  }
}

/** What one container may hold. Real ones have a dozen at the most; a `traf` has one for each run besides. */
const MOST_BOXES = 128;

export interface Box {
  type: string;
  /** the payload, after the header */
  body: DataView;
  /** offset of the box in the whole segment, and its size with header */
  offset: number;
  size: number;
}

/** All boxes of a container. @throws {MediaError} when one is cut off, or there are more than any segment has */
export function boxes(data: DataView, base: number): Box[] {
  const out: Box[] = [];
  for (let at = 0; at < data.byteLength;) {
    if (data.byteLength - at < 8) fail();
    if (out.length === MOST_BOXES) throw new MediaError(`more than ${MOST_BOXES} boxes stand side by side`);
    let size = u32(data, at);
    const type = String.fromCharCode(u8(data, at + 4), u8(data, at + 5), u8(data, at + 6), u8(data, at + 7));
    let header = 8;
    if (size === 1) {
      size = u64(data, at + 8);
      header = 16;
    } else if (size === 0) size = data.byteLength - at;
    if (size < header || at + size > data.byteLength) throw new MediaError(`box ${JSON.stringify(type)} is cut off`);
    out.push({ type, body: sub(data, at + header, size - header), offset: base + at, size });
    at += size;
  }
  return out;
}

export const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
export const inside = (box: Box) => boxes(box.body, box.offset + box.size - box.body.byteLength);
export const path = (list: Box[], outer: string, inner: string) => only(inside(only(list, outer)), inner);

/** The one box of a type. @throws {MediaError} when there is none, or more */
export function only(list: Box[], type: string): Box {
  const found = list.filter((b) => b.type === type);
  if (found.length !== 1) throw new MediaError(`one ${type} box is expected, ${found.length} found`);
  return found[0]!;
}

export function sub(data: DataView, offset: number, length = data.byteLength - offset): DataView {
  if (length < 0) fail();
  return new DataView(data.buffer, data.byteOffset + offset, length);
}

export function fail(): never {
  throw new MediaError("a box is cut off");
}

export const u8 = (d: DataView, at: number) => (at + 1 <= d.byteLength ? d.getUint8(at) : fail());
export const u16 = (d: DataView, at: number) => (at + 2 <= d.byteLength ? d.getUint16(at) : fail());
export const u32 = (d: DataView, at: number) => (at + 4 <= d.byteLength ? d.getUint32(at) : fail());
export function u64(d: DataView, at: number): number {
  if (at + 8 > d.byteLength) fail();
  const value = d.getUint32(at) * 2 ** 32 + d.getUint32(at + 4);
  if (!Number.isSafeInteger(value)) throw new MediaError("a number in the segment is out of range");
  return value;
}

/** A box of these parts. */
export function box(type: string, ...parts: Uint8Array[]): Uint8Array<ArrayBuffer> {
  const header = new Uint8Array(8);
  view(header).setUint32(0, 8 + parts.reduce((sum, part) => sum + part.length, 0));
  for (let i = 0; i < 4; i++) header[4 + i] = type.charCodeAt(i);
  return joinBytes([header, ...parts]);
}

/** The base decode time of a fragment, in ticks (`tfdt`; ISO/IEC 14496-12, 8.8.12). */
export function baseTime(inTraf: Box[]): number {
  const { body } = only(inTraf, "tfdt");
  return u8(body, 0) === 1 ? u64(body, 4) : u32(body, 4);
}
