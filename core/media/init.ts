import { boxes, inside, MediaError, only, path, sub, u16, u32, u8, view, type Box } from "./iso";

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

/** The largest picture that is taken: 16 megapixels, more than two 4K screens. */
const MOST_PIXELS = 16_777_216;
const MOST_CHANNELS = 8;
const TAKEN = "H.264, VP9, VP8, Opus and AAC-LC";

/**
 * Reads an init segment (`ftyp` + `moov`) of exactly one track. Sources: ISO/IEC 14496-12 for the boxes, 14496-15 for
 * `avcC`, 14496-1 and 14496-3 for `esds`, the VP codec and Opus bindings for `vpcC` and `dOps`.
 * @throws {MediaError} if it is anything else
 */
export function readInit(bytes: Uint8Array): InitInfo {
  const top = boxes(view(bytes), 0);
  if (top.some((b) => b.type === "moof" || b.type === "mdat")) throw new MediaError("an init segment holds no media");
  if (top[0]?.type !== "ftyp") throw new MediaError("an init segment starts with an ftyp box");
  const inMoov = inside(only(top, "moov"));
  const trex = path(inMoov, "mvex", "trex");
  const inTrak = inside(only(inMoov, "trak"));
  const inMdia = inside(only(inTrak, "mdia"));
  const tkhd = only(inTrak, "tkhd").body;
  const mdhd = only(inMdia, "mdhd").body;
  const stsd = only(inside(path(inMdia, "minf", "stbl")), "stsd");
  if (u32(stsd.body, 4) !== 1) throw new MediaError("one sample description is expected");
  const entries = boxes(sub(stsd.body, 8), stsd.offset);
  if (entries.length !== 1) throw new MediaError("one sample description is expected");

  const timescale = u32(mdhd, u8(mdhd, 0) === 1 ? 20 : 12);
  if (timescale === 0) throw new MediaError("the track's timescale is 0");
  const entry = readSampleEntry(entries[0]!);
  checkSize(entry);
  return {
    trackId: u32(tkhd, u8(tkhd, 0) === 1 ? 20 : 12),
    timescale,
    defaults: { duration: u32(trex.body, 12), size: u32(trex.body, 16), flags: u32(trex.body, 20) },
    ...entry,
  };
}

type EntryInfo = Omit<InitInfo, "trackId" | "timescale" | "defaults">;

function readSampleEntry(entry: Box): EntryInfo {
  const { body, type } = entry;
  if (type === "avc1" || type === "avc3") {
    const avcC = only(boxes(sub(body, 78), 0), "avcC").body;
    return picture(body, `${type}.${[1, 2, 3].map((i) => hex(u8(avcC, i))).join("")}`, (u8(avcC, 4) & 3) + 1);
  }
  if (type === "vp08" || type === "vp09") {
    const vpcC = only(boxes(sub(body, 78), 0), "vpcC").body;
    const [profile, level, depth] = [u8(vpcC, 4), u8(vpcC, 5), u8(vpcC, 6) >> 4];
    return picture(body, `${type}.${[profile, level, depth].map((n) => String(n).padStart(2, "0")).join(".")}`);
  }
  if (type === "Opus") {
    const dOps = only(boxes(sub(body, 28), 0), "dOps").body;
    return sound(body, "opus", u8(dOps, 1));
  }
  if (type === "mp4a") {
    const { object, channels } = aacOf(only(boxes(sub(body, 28), 0), "esds").body);
    if (object === 2) return sound(body, "mp4a.40.2", channels);
  }
  throw new MediaError(`codec ${JSON.stringify(type)} is not taken; ${TAKEN} are`);
}

const picture = (body: DataView, codec: string, nalLengthBytes = 0): EntryInfo => ({
  type: "video",
  codec,
  nalLengthBytes,
  width: u16(body, 24),
  height: u16(body, 26),
  sampleRate: 0,
  channels: 0,
});

/** @param told channels by the codec's own header, which is right where the entry is not; 0 where it does not say */
const sound = (body: DataView, codec: string, told: number): EntryInfo => ({
  type: "audio",
  codec,
  nalLengthBytes: 0,
  width: 0,
  height: 0,
  channels: told || u16(body, 16),
  sampleRate: u16(body, 24),
});

function checkSize({ type, width, height, channels, sampleRate }: EntryInfo): void {
  if (type === "video" && (width === 0 || height === 0)) throw new MediaError("the picture has no size");
  if (width * height > MOST_PIXELS) throw new MediaError(`pictures of ${width} × ${height} are too large`);
  if (type === "audio" && (channels < 1 || channels > MOST_CHANNELS || sampleRate === 0)) {
    throw new MediaError(`sound of ${channels} channels at ${sampleRate} Hz is not taken`);
  }
}

/** Channels by the channel configuration of AAC: 7 is eight, 0 is told elsewhere (ISO/IEC 14496-3, table 1.19). */
const AAC_CHANNELS = [0, 1, 2, 3, 4, 5, 6, 8];

/**
 * What the `esds` box tells of AAC: its audio object type (2 is AAC-LC) and channels. Descriptors stand one in another,
 * each with its tag and its length in seven-bit groups (ISO/IEC 14496-1, 7.2.6 and 8.3.3; 14496-3, 1.6.2.1).
 * @returns object 0 for anything but AAC, channels 0 where they are told elsewhere
 */
function aacOf(esds: DataView): { object: number; channels: number } {
  const none = { object: 0, channels: 0 };
  let at = 4;
  const open = (tag: number) => {
    if (u8(esds, at++) !== tag) return false;
    for (let n = 0; n < 4 && u8(esds, at++) & 0x80; n++);
    return true;
  };
  if (!open(3)) return none;
  const flags = u8(esds, at + 2);
  at += 3;
  if (flags & 0x80) at += 2;
  if (flags & 0x40) at += 1 + u8(esds, at);
  if (flags & 0x20) at += 2;
  if (!open(4) || u8(esds, at) !== 0x40) return none;
  at += 13;
  if (!open(5)) return none;
  // Five bits of object, four of the rate (fifteen: it follows, in 24 bits), four of the channels.
  const config = u16(esds, at);
  const isRateFollowing = ((config >> 7) & 15) === 15;
  return { object: config >> 11, channels: isRateFollowing ? 0 : (AAC_CHANNELS[(config >> 3) & 15] ?? 0) };
}

const hex = (n: number) => n.toString(16).padStart(2, "0");
