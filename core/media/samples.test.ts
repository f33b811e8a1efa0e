import { describe, expect, it } from "vitest";
import { decodeComplaints, joinBytes, makeTrack, pictureNumbers, probePackets } from "../../testing/media";
import { readInit } from "./init";
import { MediaError } from "./iso";
import { hasSets, readParameterSets, setsInUse, withParameterSets } from "./parameter-sets";
import { partOf, readSamples, writeSegment } from "./samples";
import { readSegment } from "./segment";

describe("the samples of a segment", () => {
  it.each(["numbered", "numbered-half", "numbered-vp9", "aac", "microphone"] as const)(
    "of %s are taken apart and put together again as they were",
    (kind) => {
      const { init, segments } = makeTrack(kind, 6);
      const info = readInit(init);
      const again = segments.map((segment) => writeSegment(readSamples(segment, info), info));
      segments.forEach((segment, n) => expect(readSegment(again[n]!, info)).toEqual(readSegment(segment, info)));
      // Outside check: ffprobe finds the same packets, ffmpeg decodes them.
      expect(probePackets(joinBytes(init, ...again))).toEqual(probePackets(joinBytes(init, ...segments)));
      expect(decodeComplaints(joinBytes(init, ...again))).toBe("");
    },
  );

  it("are cut to a part, whose last one ends with it", () => {
    const { init, segments } = makeTrack("numbered-half", 6);
    const info = readInit(init);
    const samples = readSamples(segments[1]!, info);
    const part = partOf(samples, samples.start, samples.start + 7);
    expect(part.samples.map(({ duration }) => duration)).toEqual([2, 2, 2, 1]);
    const later = partOf(samples, samples.start + 4, samples.start + 8);
    expect([later.start, later.samples.length]).toEqual([samples.start + 4, 2]);
    const file = joinBytes(init, writeSegment(part, info));
    expect(pictureNumbers(file)).toEqual([0, 0, 2, 2, 4, 4, 6].map((n) => n + samples.start));
  });

  it("are refused where pictures are shown in another order", () => {
    const { init, segments } = makeTrack("numbered", 6);
    const bytes = Buffer.from(segments[0]!);
    const trun = bytes.indexOf("trun");
    // Composition offsets are there (0x800), in place of the sizes that follow.
    bytes.writeUInt32BE(bytes.readUInt32BE(trun + 4) | 0x800, trun + 4);
    expect(() => readSamples(bytes, readInit(init))).toThrow(MediaError);
  });
});

describe("the parameter sets of a track", () => {
  const { init } = makeTrack("numbered", 6);
  const own = readParameterSets(init)!;
  /** The same sets under another number: 0 is one bit, 1 three (ue(v), ITU-T H.264, 9.1). */
  const other = { sequence: [Uint8Array.of(...own.sequence[0]!, 7)], picture: [Uint8Array.of(0x68, 0b0101_0000)] };

  it("are read with their numbers, and none of what has none", () => {
    expect([own.sequence.length, own.picture.length, setsInUse(own)]).toEqual([1, 1, 0]);
    expect(setsInUse(other)).toBe(1);
    expect(readParameterSets(makeTrack("numbered-vp9", 9).init)).toBeNull();
    expect(readParameterSets(makeTrack("aac", 6).init)).toBeNull();
    expect(() => setsInUse({ sequence: [], picture: [Uint8Array.of(0x68, 0, 0)] })).toThrow(MediaError);
  });

  it("are added once, and everything else of the init segment stays", () => {
    const more = withParameterSets(init, other);
    expect(readInit(more)).toEqual(readInit(init));
    const now = readParameterSets(more)!;
    expect([now.sequence.length, now.picture.length, hasSets(now, other), hasSets(own, other)]).toEqual([
      2,
      2,
      true,
      false,
    ]);
    expect(withParameterSets(more, other)).toEqual(more);
    expect(() => withParameterSets(makeTrack("aac", 6).init, other)).toThrow(MediaError);
  });
});
