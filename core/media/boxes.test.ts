import { describe, expect, it } from "vitest";
import { joinBytes, makeTrack, probePackets } from "../../testing/media";
import { MediaError, readInit, readSegment } from "./boxes";

// Outside check: ffmpeg wrote these files, and ffprobe is asked what is in them.
describe("ISO media files written by ffmpeg", () => {
  it.each([
    ["screen", { type: "video", width: 640, height: 360, codec: expect.stringMatching(/^avc1\.[0-9a-f]{6}$/) }, "h264"],
    ["vp9", { type: "video", width: 320, height: 240, codec: "vp09.00.20.08" }, "vp9"],
    ["microphone", { type: "audio", channels: 1, sampleRate: 48000, codec: "opus" }, "opus"],
  ] as const)("reads the init and the segments of a %s track", (kind, says, codec) => {
    const { init, segments } = makeTrack(kind, 5);
    const info = readInit(init);
    expect(info).toMatchObject(says);
    let frames = 0;
    for (const segment of segments) {
      const told = readSegment(segment, info);
      const probed = probePackets(joinBytes(init, segment));
      expect(told.frames).toBe(probed.packets);
      expect(told.start / info.timescale).toBeCloseTo(probed.start, kind === "microphone" ? 1 : 4);
      // ffprobe leaves out the length of a last packet it cannot know: one frame at most.
      expect(Math.abs(told.duration / info.timescale - probed.duration)).toBeLessThan(0.08);
      expect(told.startsWithKeyFrame).toBe(true);
      frames += told.frames;
    }
    const whole = probePackets(joinBytes(init, ...segments));
    expect(frames).toBe(whole.packets);
    expect(whole.codec).toBe(codec);
  });
});

describe("what is refused", () => {
  const { init, segments } = makeTrack("screen", 5);
  const info = readInit(init);
  const segment = segments[0]!;

  it.each([
    ["nothing", new Uint8Array()],
    ["text", new TextEncoder().encode("hello, I am not a video at all")],
    ["a segment", segment],
    ["half of it", init.subarray(0, init.length >> 1)],
    ["a codec that is not taken", makeTrack("aac", 1).init],
  ])("as init: %s", (_, bytes) => expect(() => readInit(bytes)).toThrow(MediaError));

  it.each([
    ["nothing", new Uint8Array()],
    ["an init", init],
    ["two at once", joinBytes(segment, segments[1]!)],
    ["half of it", segment.subarray(0, segment.length >> 1)],
    ["with a byte too many", joinBytes(segment, new Uint8Array(1))],
  ])("as segment: %s", (_, bytes) => expect(() => readSegment(bytes, info)).toThrow(MediaError));

  it("a segment of another track", () => {
    expect(() => readSegment(segment, { ...info, trackId: 9 })).toThrow(/track 1 is in the segment, track 9/);
  });

  it("a segment of another codec under the same track number", () => {
    const sound = makeTrack("microphone", 3);
    expect(() => readSegment(sound.segments[0]!, info)).toThrow(/not avc1/);
    expect(() => readSegment(makeTrack("vp9", 5).segments[0]!, info)).toThrow(/not avc1/);
    expect(() => readSegment(segment, readInit(makeTrack("vp9", 5).init))).toThrow(/not vp09/);
    expect(() => readSegment(segment, readInit(sound.init))).toThrow(/not opus/);
  });

  it("samples that reach past the mdat", () => {
    const forged = Buffer.from(segment);
    const trun = forged.indexOf("trun");
    forged.writeInt32BE(forged.readInt32BE(trun + 12) + 64, trun + 12);
    expect(() => readSegment(forged, info)).toThrow(/outside the mdat/);
  });

  it("never fails in another way, whatever byte is wrong", () => {
    let seed = 3;
    const whole = [init, segment];
    for (let n = 0; n < 4_000; n++) {
      seed = (seed * 1_103_515_245 + 12_345) % 2_147_483_648;
      const broken = Buffer.from(whole[n % 2]!.subarray(0, 1200));
      broken[seed % broken.length] = seed >> 16;
      try {
        if (n % 2) readSegment(broken, info);
        else readInit(broken);
      } catch (error) {
        expect(error).toBeInstanceOf(MediaError);
      }
    }
  });
});
