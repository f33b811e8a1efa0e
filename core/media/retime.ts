import { boxes, inside, only, u8, view } from "./iso";

/**
 * A segment that begins later by so many ticks: the same bytes but for its base decode time (`tfdt`,
 * ISO/IEC 14496-12, 8.8.12).
 * @param bytes a segment that `readSegment` has taken
 * @throws {MediaError} where there is no such time
 * @throws {RangeError} for a time that its field cannot hold
 */
export function retime(bytes: Uint8Array, ticks: number): Uint8Array {
  if (ticks === 0) return bytes;
  const moof = boxes(view(bytes), 0).find((b) => b.type === "moof");
  const copy = new Uint8Array(bytes);
  const { body } = only(inside(only(moof ? inside(moof) : [], "traf")), "tfdt");
  const wide = u8(body, 0) === 1;
  const at = body.byteOffset - bytes.byteOffset + 4;
  const field = view(copy);
  const time = (wide ? Number(field.getBigUint64(at)) : field.getUint32(at)) + ticks;
  if (time < 0 || time > (wide ? Number.MAX_SAFE_INTEGER : 0xffffffff))
    throw new RangeError("the time does not fit into the segment");
  if (wide) field.setBigUint64(at, BigInt(time));
  else field.setUint32(at, time);
  return copy;
}

/**
 * By how many ticks a run of segments is moved so that it begins at a shown time. Pictures are moved by frames of their
 * grid. Players count the packets of sound, so all of it lies on one unbroken grid of packets: at most half a packet
 * off, which never adds up, as each run is placed by itself.
 * @param run where its first segment begins by its own clock, and where that is shown; in ticks, the latter with parts
 * @param packet ticks of one packet of sound; 1 for pictures
 * @param phase where the grid lies: the beginning of any packet of the first run, in ticks
 */
export function shiftTicks(run: { start: number; shown: number }, packet: number, phase: number): number {
  return phase + Math.round((run.shown - phase) / packet) * packet - run.start;
}
