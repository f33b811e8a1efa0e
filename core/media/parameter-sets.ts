import { box, boxes, fail, inside, MediaError, only, sub, u16, u8, view, type Box } from "./iso";
import { joinBytes } from "./split";

/**
 * The parameter sets of an H.264 track: what a decoder must know before its pictures. Pictures name theirs by a number,
 * so a track can hold pictures of two encoders when its init segment has the sets of both.
 */
export interface ParameterSets {
  /** sequence parameter sets, whole units */
  sequence: Uint8Array[];
  /** picture parameter sets */
  picture: Uint8Array[];
}

/** Numbers of sequence parameter sets go from 0 to 31 (ITU-T H.264, 7.4.2.1.1). */
export const MOST_SETS = 32;

/** The parameter sets of an init segment; null where its codec has none. @throws {MediaError} for a broken one */
export function readParameterSets(init: Uint8Array): ParameterSets | null {
  const found = findAvcC(init);
  return found && readAvcC(found.at(-1)!.body);
}

/**
 * The highest number that a set has. In a sequence parameter set it stands behind the unit's byte and three for
 * profile, constraints and level (7.3.2.1.1), in a picture parameter set behind the unit's byte (7.3.2.2).
 * @throws {MediaError} where one is cut off
 */
export function setsInUse({ sequence, picture }: ParameterSets): number {
  return Math.max(
    0,
    ...sequence.map((set) => exponential(set.subarray(4))),
    ...picture.map((set) => exponential(set.subarray(1))),
  );
}

/** Some init segment with these parameter sets besides its own. Sets that it has are not added again. */
export function withParameterSets(init: Uint8Array, sets: ParameterSets): Uint8Array<ArrayBuffer> {
  const boxesDown = findAvcC(init);
  if (!boxesDown) throw new MediaError("only H.264 has parameter sets");
  const avcC = boxesDown.at(-1)!;
  const own = readAvcC(avcC.body);
  const all = {
    sequence: [...own.sequence, ...added(own.sequence, sets.sequence)],
    picture: [...own.picture, ...added(own.picture, sets.picture)],
  };
  const listed = (units: Uint8Array[]) => units.flatMap((u) => [Uint8Array.of(u.length >> 8, u.length & 0xff), u]);
  const head = bytesOf(avcC.body).subarray(0, 5);
  const { rest } = own;
  const written = box(
    "avcC",
    head,
    Uint8Array.of(0xe0 | all.sequence.length),
    ...listed(all.sequence),
    Uint8Array.of(all.picture.length),
    ...listed(all.picture),
    rest,
  );
  const out = joinBytes([init.subarray(0, avcC.offset), written, init.subarray(avcC.offset + avcC.size)]);
  // Every box around it has grown.
  for (const { offset, size } of boxesDown.slice(0, -1)) view(out).setUint32(offset, size + written.length - avcC.size);
  return out;
}

const same = (a: Uint8Array, b: Uint8Array) => a.length === b.length && a.every((byte, i) => byte === b[i]);
const added = (own: Uint8Array[], more: Uint8Array[]) => more.filter((unit) => !own.some((o) => same(o, unit)));

/** Are all of these sets among those of an init segment? */
export const hasSets = (own: ParameterSets, sets: ParameterSets): boolean =>
  added(own.sequence, sets.sequence).length === 0 && added(own.picture, sets.picture).length === 0;

/** The boxes from `moov` down to `avcC`; null where there is none. */
function findAvcC(init: Uint8Array): Box[] | null {
  const down: Box[] = [];
  let list = boxes(view(init), 0);
  for (const type of ["moov", "trak", "mdia", "minf", "stbl", "stsd"]) {
    const next = only(list, type);
    down.push(next);
    list = type === "stsd" ? boxes(sub(next.body, 8), next.offset + 16) : inside(next);
  }
  const [entry] = list;
  if (!entry || (entry.type !== "avc1" && entry.type !== "avc3")) return null;
  return [...down, entry, only(boxes(sub(entry.body, 78), entry.offset + 86), "avcC")];
}

/** ISO/IEC 14496-15, 5.3.3.1. */
function readAvcC(body: DataView): ParameterSets & { rest: Uint8Array } {
  let at = 5;
  const list = (count: number) =>
    Array.from({ length: count }, () => {
      const length = u16(body, at);
      at += 2 + length;
      if (at > body.byteLength) fail();
      return bytesOf(body).subarray(at - length, at);
    });
  const sequence = list(u8(body, at++) & 0x1f);
  const picture = list(u8(body, at++));
  return { sequence, picture, rest: bytesOf(body).subarray(at) };
}

/** The first ue(v) of some bits (ITU-T H.264, 9.1). */
function exponential(bytes: Uint8Array): number {
  const bit = (n: number) => ((bytes[n >> 3] ?? fail()) >> (7 - (n & 7))) & 1;
  let zeros = 0;
  while (bit(zeros) === 0) if (++zeros > 16) throw new MediaError("the parameter set has no number");
  let value = 1;
  for (let n = zeros + 1; n <= 2 * zeros; n++) value = 2 * value + bit(n);
  return value - 1;
}

const bytesOf = (d: DataView) => new Uint8Array(d.buffer, d.byteOffset, d.byteLength);
