import type { InitInfo } from "./init";
import { baseTime, box, boxes, inside, MediaError, only, u32, view } from "./iso";
import { isKey, readTfhd, readTrunHead } from "./segment";
import { joinBytes } from "./split";

/** One sample of a segment: a picture as it was encoded, or a packet of sound. */
export interface Sample {
  bytes: Uint8Array;
  /** ticks */
  duration: number;
  isKey: boolean;
}

/** What a segment holds, sample by sample. `start`: its base decode time in ticks */
export interface Samples {
  start: number;
  samples: Sample[];
}

/**
 * Takes a segment apart.
 * @param bytes a segment that `readSegment` has taken
 * @throws {MediaError} where its pictures are shown in another order than they stand in: no such segment comes from a
 * recorder, and it cannot be cut between samples
 */
export function readSamples(bytes: Uint8Array, init: InitInfo): Samples {
  const moof = only(
    boxes(view(bytes), 0).filter((b) => b.type === "moof"),
    "moof",
  );
  const inTraf = inside(only(inside(moof), "traf"));
  const { defaults } = readTfhd(only(inTraf, "tfhd").body, init);
  const samples: Sample[] = [];
  for (const { body } of inTraf.filter((b) => b.type === "trun")) {
    const { flags, frames, dataOffset, firstFlags, at } = readTrunHead(body);
    let from = moof.offset + dataOffset;
    let entry = at;
    const next = (flag: number, otherwise: number) => {
      if (!(flags & flag)) return otherwise;
      entry += 4;
      return u32(body, entry - 4);
    };
    for (let n = 0; n < frames; n++) {
      const duration = next(0x100, defaults.duration);
      const size = next(0x200, defaults.size);
      const own = next(0x400, defaults.flags);
      if (next(0x800, 0) !== 0) throw new MediaError("its pictures are shown in another order than they stand in");
      const told = n === 0 ? (firstFlags ?? own) : own;
      samples.push({ bytes: bytes.subarray(from, from + size), duration, isKey: isKey(told) });
      from += size;
    }
  }
  return { start: baseTime(inTraf), samples };
}

/** `sample_depends_on` 2 and 1: needs no other sample, or does (ISO/IEC 14496-12, 8.6.4). */
const KEY_FLAGS = 0x02000000;
const OTHER_FLAGS = 0x01010000;

/** One `moof` with its `mdat`, of these samples (ISO/IEC 14496-12, 8.8). */
export function writeSegment({ start, samples }: Samples, { trackId, type }: InitInfo): Uint8Array<ArrayBuffer> {
  const words = (...values: number[]) => {
    const out = new Uint8Array(4 * values.length);
    values.forEach((value, i) => view(out).setUint32(4 * i, value));
    return out;
  };
  const keyFlags = (isKey: boolean) => (isKey || type === "audio" ? KEY_FLAGS : OTHER_FLAGS);
  const table = samples.flatMap((s) => [s.duration, s.bytes.length, keyFlags(s.isKey)]);
  // default-base-is-moof; data offset, and of each sample its duration, size and flags.
  const moof = (dataOffset: number) =>
    box(
      "moof",
      box("mfhd", words(0, 1)),
      box(
        "traf",
        box("tfhd", words(0x020000, trackId)),
        box("tfdt", words(0x01000000, Math.floor(start / 2 ** 32), start >>> 0)),
        box("trun", words(0x000701, samples.length, dataOffset, ...table)),
      ),
    );
  const header = moof(0).length;
  return joinBytes([moof(header + 8), box("mdat", ...samples.map((s) => s.bytes))]);
}

/**
 * The samples of a part of a segment, each as it is; the last of them ends with the part.
 * @param from ticks, where one of them begins
 */
export function partOf({ start, samples }: Samples, from: number, to: number): Samples {
  const out: Sample[] = [];
  let at = start;
  for (const sample of samples) {
    const end = at + sample.duration;
    if (at >= from && at < to) out.push({ ...sample, duration: Math.min(end, to) - at });
    at = end;
  }
  return { start: from, samples: out };
}
