/**
 * Reading of ISO base media files as far as a fragmented track needs it: ISO/IEC 14496-12 for the boxes, 14496-15 for
 * `avcC`, the VP codec and Opus bindings for `vpcC` and `dOps`. Nothing is written here, and no media is decoded.
 */

/** The bytes are not what they should be. The message says what was found, in words fit for an API answer. */
export class MediaError extends Error {
  constructor(message: string) {
    super(message);
    this.name = "MediaError";
  }
}

/** What an init segment says of its one track. */
export interface InitInfo {
  trackId: number;
  /** ticks per second of this track's times */
  timescale: number;
  type: "video" | "audio";
  /** RFC 6381 codec string, for `CODECS` in playlists and for Media Source Extensions */
  codec: string;
  width: number;
  height: number;
  sampleRate: number;
  channels: number;
  /** H.264 only: how many bytes tell the length of a unit in a sample */
  nalLengthBytes: number;
  /** from `trex`, used where a fragment does not say otherwise */
  defaults: SampleDefaults;
}

export interface SampleDefaults {
  duration: number;
  size: number;
  flags: number;
}

/** What a media segment holds, in the track's own ticks. */
export interface SegmentInfo {
  start: number;
  duration: number;
  frames: number;
  startsWithKeyFrame: boolean;
}

interface Box {
  type: string;
  /** the payload, after the header */
  body: DataView;
  /** offset of the box in the whole segment, and its size with header */
  offset: number;
  size: number;
}

/**
 * Reads an init segment (`ftyp` + `moov`) of exactly one track.
 * @throws {MediaError} if it is anything else
 */
export function readInit(bytes: Uint8Array): InitInfo {
  const top = boxes(view(bytes), 0);
  if (top.some((b) => b.type === "moof" || b.type === "mdat")) throw new MediaError("an init segment holds no media");
  if (top[0]?.type !== "ftyp") throw new MediaError("an init segment starts with an ftyp box");
  const moov = only(top, "moov");
  const inMoov = inside(moov);
  const trak = only(inMoov, "trak");
  const trex = path(inMoov, "mvex", "trex");
  const inTrak = inside(trak);
  const inMdia = inside(only(inTrak, "mdia"));
  const tkhd = only(inTrak, "tkhd").body;
  const mdhd = only(inMdia, "mdhd").body;
  const stsd = only(inside(path(inMdia, "minf", "stbl")), "stsd");
  const entries = boxes(sub(stsd.body, 8), stsd.offset);
  if (entries.length !== 1) throw new MediaError("one sample description is expected");

  const timescale = u32(mdhd, u8(mdhd, 0) === 1 ? 20 : 12);
  if (timescale === 0) throw new MediaError("the track's timescale is 0");
  return {
    trackId: u32(tkhd, u8(tkhd, 0) === 1 ? 20 : 12),
    timescale,
    defaults: { duration: u32(trex.body, 12), size: u32(trex.body, 16), flags: u32(trex.body, 20) },
    ...readSampleEntry(entries[0]!),
  };
}

/**
 * Reads a media segment: exactly one `moof` and one `mdat`, of this track, with every sample inside the `mdat`.
 * A `styp` before them is allowed (CMAF).
 * @throws {MediaError} if it is anything else or does not fit the init segment
 */
export function readSegment(bytes: Uint8Array, init: InitInfo): SegmentInfo {
  const top = boxes(view(bytes), 0);
  const core = top[0]?.type === "styp" ? top.slice(1) : top;
  if (core.length !== 2 || core[0]!.type !== "moof" || core[1]!.type !== "mdat") {
    throw new MediaError(`a segment is one moof and one mdat, here: ${top.map((b) => b.type).join(" ") || "nothing"}`);
  }
  const [moof, mdat] = core as [Box, Box];
  const inTraf = inside(only(inside(moof), "traf"));
  const tfhd = readTfhd(only(inTraf, "tfhd").body, init);
  if (tfhd.trackId !== init.trackId)
    throw new MediaError(`track ${tfhd.trackId} is in the segment, track ${init.trackId} in the init`);
  const tfdt = only(inTraf, "tfdt").body;
  const start = u8(tfdt, 0) === 1 ? u64(tfdt, 4) : u32(tfdt, 4);

  const runs = inTraf.filter((b) => b.type === "trun");
  if (runs.length === 0) throw new MediaError("the segment has no samples");
  const mdatBody = { from: mdat.offset + mdat.size - mdat.body.byteLength, to: mdat.offset + mdat.size };
  const sum = { duration: 0, frames: 0 };
  let startsWithKeyFrame = false;
  let first: Uint8Array | null = null;
  for (const trun of runs) {
    const run = readTrun(trun.body, tfhd.defaults);
    if (sum.frames === 0) startsWithKeyFrame = (run.firstFlags & 0x10000) === 0;
    const from = moof.offset + run.dataOffset;
    first ??= bytes.subarray(from, from + run.firstBytes);
    if (from < mdatBody.from || from + run.bytes > mdatBody.to) throw new MediaError("a sample lies outside the mdat");
    sum.duration += run.duration;
    sum.frames += run.frames;
  }
  if (sum.frames === 0 || sum.duration <= 0) throw new MediaError("the segment has no samples");
  if (!first || !looksLike(first, init))
    throw new MediaError(`the samples are not ${init.codec}, as the init segment says`);
  return { start, duration: sum.duration, frames: sum.frames, startsWithKeyFrame };
}

/**
 * Can this sample be of the track's codec? Not a decoder's answer, but one that tells codecs apart: H.264 units fill
 * the sample exactly
 * (ISO/IEC 14496-15), VP9 frames begin with the marker 2 (VP9 bitstream, 6.2), and an Opus packet holds 2.5 to 120 ms
 * (RFC 6716, 3).
 */
function looksLike(sample: Uint8Array, { codec, nalLengthBytes }: InitInfo): boolean {
  if (sample.length === 0) return false;
  if (codec.startsWith("avc")) {
    let at = 0;
    while (at + nalLengthBytes < sample.length) {
      let length = 0;
      for (let i = 0; i < nalLengthBytes; i++) length = length * 256 + sample[at + i]!;
      if (length === 0 || sample[at + nalLengthBytes]! & 0x80) return false;
      at += nalLengthBytes + length;
    }
    return at === sample.length;
  }
  if (codec.startsWith("vp09")) return sample[0]! >> 6 === 2;
  if (codec === "opus") return opusMillis(sample) <= 120 && sample.length <= 1276 * 6;
  return true;
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

function readTfhd(body: DataView, init: InitInfo) {
  const flags = u32(body, 0) & 0xffffff;
  const defaults = { ...init.defaults };
  let at = 8;
  if (flags & 0x01) at += 8;
  if (flags & 0x02) at += 4;
  if (flags & 0x08) {
    defaults.duration = u32(body, at);
    at += 4;
  }
  if (flags & 0x10) {
    defaults.size = u32(body, at);
    at += 4;
  }
  if (flags & 0x20) defaults.flags = u32(body, at);
  return { trackId: u32(body, 4), defaults };
}

function readTrun(body: DataView, defaults: SampleDefaults) {
  const flags = u32(body, 0) & 0xffffff;
  const frames = u32(body, 4);
  let at = 8;
  let dataOffset = 0;
  if (flags & 0x01) {
    dataOffset = u32(body, at) | 0;
    at += 4;
  }
  let firstFlags = defaults.flags;
  if (flags & 0x04) {
    firstFlags = u32(body, at);
    at += 4;
  }
  const perSample = [0x100, 0x200, 0x400, 0x800].filter((bit) => flags & bit).length * 4;
  if (frames > 1_000_000 || at + frames * perSample > body.byteLength) fail();
  let duration = 0;
  let bytes = 0;
  let firstBytes = 0;
  for (let i = 0; i < frames; i++) {
    duration += flags & 0x100 ? u32(body, at) : defaults.duration;
    if (flags & 0x100) at += 4;
    const size = flags & 0x200 ? u32(body, at) : defaults.size;
    if (i === 0) firstBytes = size;
    bytes += size;
    if (flags & 0x200) at += 4;
    if (flags & 0x400) {
      if (i === 0 && !(flags & 0x04)) firstFlags = u32(body, at);
      at += 4;
    }
    if (flags & 0x800) at += 4;
  }
  return { frames, duration, bytes, firstBytes, dataOffset, firstFlags };
}

type EntryInfo = Pick<InitInfo, "type" | "codec" | "width" | "height" | "sampleRate" | "channels" | "nalLengthBytes">;

function readSampleEntry(entry: Box): EntryInfo {
  const { body, type } = entry;
  const video = (codec: string, nalLengthBytes = 0): EntryInfo => ({
    type: "video",
    codec,
    nalLengthBytes,
    width: u16(body, 24),
    height: u16(body, 26),
    sampleRate: 0,
    channels: 0,
  });
  if (type === "avc1" || type === "avc3") {
    const avcC = only(boxes(sub(body, 78), 0), "avcC").body;
    return video(`${type}.${[1, 2, 3].map((i) => hex(u8(avcC, i))).join("")}`, (u8(avcC, 4) & 3) + 1);
  }
  if (type === "vp08" || type === "vp09") {
    const vpcC = only(boxes(sub(body, 78), 0), "vpcC").body;
    const [profile, level, depth] = [u8(vpcC, 4), u8(vpcC, 5), u8(vpcC, 6) >> 4];
    return video(`${type}.${[profile, level, depth].map((n) => String(n).padStart(2, "0")).join(".")}`);
  }
  if (type === "Opus") {
    only(boxes(sub(body, 28), 0), "dOps");
    return {
      type: "audio",
      codec: "opus",
      nalLengthBytes: 0,
      width: 0,
      height: 0,
      channels: u16(body, 16),
      sampleRate: u16(body, 24),
    };
  }
  throw new MediaError(`codec ${JSON.stringify(type)} is not taken; H.264, VP9, VP8 and Opus are`);
}

function boxes(data: DataView, base: number): Box[] {
  const out: Box[] = [];
  for (let at = 0; at < data.byteLength;) {
    if (data.byteLength - at < 8) throw new MediaError("a box is cut off");
    let size = u32(data, at);
    const type = String.fromCharCode(...[4, 5, 6, 7].map((i) => u8(data, at + i)));
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

const view = (bytes: Uint8Array) => new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
const inside = (box: Box) => boxes(box.body, box.offset + box.size - box.body.byteLength);
const path = (list: Box[], outer: string, inner: string) => only(inside(only(list, outer)), inner);
const hex = (n: number) => n.toString(16).padStart(2, "0");

function only(list: Box[], type: string): Box {
  const found = list.filter((b) => b.type === type);
  if (found.length !== 1) throw new MediaError(`one ${type} box is expected, ${found.length} found`);
  return found[0]!;
}

function sub(data: DataView, offset: number, length = data.byteLength - offset): DataView {
  if (length < 0) throw new MediaError("a box is cut off");
  return new DataView(data.buffer, data.byteOffset + offset, length);
}

function fail(): never {
  throw new MediaError("a box is cut off");
}
const u8 = (d: DataView, at: number) => (at + 1 <= d.byteLength ? d.getUint8(at) : fail());
const u16 = (d: DataView, at: number) => (at + 2 <= d.byteLength ? d.getUint16(at) : fail());
const u32 = (d: DataView, at: number) => (at + 4 <= d.byteLength ? d.getUint32(at) : fail());
function u64(d: DataView, at: number): number {
  if (at + 8 > d.byteLength) fail();
  const value = d.getUint32(at) * 2 ** 32 + d.getUint32(at + 4);
  if (!Number.isSafeInteger(value)) throw new MediaError("a number in the segment is out of range");
  return value;
}
