import type { InitInfo, SampleDefaults } from "./init";
import { baseTime, boxes, fail, inside, MediaError, only, u32, view, type Box } from "./iso";
import { looksLike } from "./looks";

/** What a media segment holds, in the track's own ticks. */
export interface SegmentInfo {
  start: number;
  duration: number;
  frames: number;
  startsWithKeyFrame: boolean;
}

/** A segment longer than this is no segment of a live recording. Seconds. */
export const LONGEST_SECONDS = 30;
/** No take is longer than a day; what says that it begins later is wrong. Seconds. */
export const LATEST_SECONDS = 24 * 3600;
/** More than any segment of 30 s has: the shortest Opus packet lasts 2.5 ms (RFC 6716, 2.1.4). */
const MOST_SAMPLES = 12_000;
const MOST_RUNS = 64;

/**
 * Reads a media segment: exactly one `moof` and one `mdat`, of this track, with every sample inside the `mdat`.
 * A `styp` before them is allowed (CMAF).
 * @throws {MediaError} if it is anything else or does not fit the init segment
 */
export function readSegment(bytes: Uint8Array, init: InitInfo): SegmentInfo {
  const top = boxes(view(bytes), 0);
  const core = top[0]?.type === "styp" ? top.slice(1) : top;
  if (core.length !== 2 || core[0]!.type !== "moof" || core[1]!.type !== "mdat") {
    const found = top.slice(0, 6).map((b) => JSON.stringify(b.type));
    throw new MediaError(`a segment is one moof and one mdat, here: ${found.join(" ") || "nothing"}`);
  }
  const [moof, mdat] = core as [Box, Box];
  const inTraf = inside(only(inside(moof), "traf"));
  const tfhd = readTfhd(only(inTraf, "tfhd").body, init);
  if (tfhd.trackId !== init.trackId) {
    throw new MediaError(`track ${tfhd.trackId} is in the segment, track ${init.trackId} in the init`);
  }
  const start = baseTime(inTraf);

  const runs = inTraf.filter((b) => b.type === "trun");
  if (runs.length === 0) throw new MediaError("the segment has no samples");
  if (runs.length > MOST_RUNS) throw new MediaError(`more than ${MOST_RUNS} runs are in the segment`);
  const mdatBody = { from: mdat.offset + mdat.size - mdat.body.byteLength, to: mdat.offset + mdat.size };
  const sum = { duration: 0, frames: 0 };
  let startsWithKeyFrame = false;
  let first: Uint8Array | null = null;
  for (const trun of runs) {
    const run = readTrun(trun.body, tfhd.defaults, MOST_SAMPLES - sum.frames);
    if (sum.frames === 0) startsWithKeyFrame = isKey(run.firstFlags);
    const from = moof.offset + run.dataOffset;
    if (from < mdatBody.from || from + run.bytes > mdatBody.to) throw new MediaError("a sample lies outside the mdat");
    if (run.frames > 0) first ??= bytes.subarray(from, from + run.firstBytes);
    sum.duration += run.duration;
    sum.frames += run.frames;
  }
  if (sum.frames === 0 || sum.duration <= 0 || !first) throw new MediaError("the segment has no samples");
  if (sum.duration > LONGEST_SECONDS * init.timescale) {
    throw new MediaError(`a segment is at most ${LONGEST_SECONDS} seconds long`);
  }
  if (start + sum.duration > LATEST_SECONDS * init.timescale) {
    throw new MediaError("the segment says that it begins more than a day after its take");
  }
  if (!looksLike(first, init)) throw new MediaError(`the samples are not ${init.codec}, as the init segment says`);
  return { start, duration: sum.duration, frames: sum.frames, startsWithKeyFrame };
}

/** ISO/IEC 14496-12, 8.8.7. */
export function readTfhd(body: DataView, init: InitInfo) {
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

/** `sample_is_non_sync_sample` is not set (ISO/IEC 14496-12, 8.8.3.1). */
export const isKey = (sampleFlags: number): boolean => (sampleFlags & 0x10000) === 0;

/** What stands before the samples of a run, and where they begin in it (ISO/IEC 14496-12, 8.8.8). */
export function readTrunHead(body: DataView) {
  const flags = u32(body, 0) & 0xffffff;
  const frames = u32(body, 4);
  let at = 8;
  let dataOffset = 0;
  if (flags & 0x01) {
    dataOffset = u32(body, at) | 0;
    at += 4;
  }
  /** of the first sample, where they are told apart from the others' */
  let firstFlags: number | null = null;
  if (flags & 0x04) {
    firstFlags = u32(body, at);
    at += 4;
  }
  return { flags, frames, dataOffset, firstFlags, at };
}

/** What is the same for all samples is multiplied; only what differs is added up. */
function readTrun(body: DataView, defaults: SampleDefaults, most: number) {
  const { flags, frames, dataOffset, at, ...head } = readTrunHead(body);
  if (frames > most) throw new MediaError(`more than ${MOST_SAMPLES} samples are in the segment`);
  const fields = [0x100, 0x200, 0x400, 0x800].filter((bit) => flags & bit);
  const stride = fields.length * 4;
  if (at + frames * stride > body.byteLength) fail();
  const place = (bit: number) => at + fields.indexOf(bit) * 4;
  const total = (bit: number, each: number) => {
    if (!(flags & bit)) return each * frames;
    let sum = 0;
    for (let i = 0, p = place(bit); i < frames; i++, p += stride) sum += body.getUint32(p);
    return sum;
  };
  const own = frames > 0 && flags & 0x400 ? u32(body, place(0x400)) : defaults.flags;
  return {
    frames,
    dataOffset,
    firstFlags: head.firstFlags ?? own,
    duration: total(0x100, defaults.duration),
    bytes: total(0x200, defaults.size),
    firstBytes: frames > 0 && flags & 0x200 ? u32(body, place(0x200)) : defaults.size,
  };
}
