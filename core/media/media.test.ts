import { describe, expect, it } from "vitest";
import { joinBytes, makeTrack, probePackets } from "../../testing/media";
import { readInit } from "./init";
import { MediaError } from "./iso";
import { readSegment } from "./segment";

// Outside check: ffmpeg wrote these files, and ffprobe is asked what is in them.
describe("ISO media files written by ffmpeg", () => {
  it.each([
    ["screen", { type: "video", width: 640, height: 360, codec: expect.stringMatching(/^avc1\.[0-9a-f]{6}$/) }, "h264"],
    ["vp9", { type: "video", width: 320, height: 240, codec: "vp09.00.20.08" }, "vp9"],
    ["microphone", { type: "audio", channels: 1, sampleRate: 48000, codec: "opus" }, "opus"],
    ["aac", { type: "audio", channels: 1, sampleRate: 48000, codec: "mp4a.40.2" }, "aac"],
  ] as const)("reads the init and the segments of a %s track", (kind, says, codec) => {
    const { init, segments } = makeTrack(kind, 5);
    const info = readInit(init);
    expect(info).toMatchObject(says);
    let frames = 0;
    for (const segment of segments) {
      const told = readSegment(segment, info);
      const probed = probePackets(joinBytes(init, segment));
      expect(told.frames).toBe(probed.packets);
      expect(told.start / info.timescale).toBeCloseTo(probed.start, kind === "microphone" || kind === "aac" ? 1 : 4);
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

it("takes the channels of AAC from its own header, where the entry says another number", () => {
  const { init } = makeTrack("aac", 1);
  expect(readInit(patched(init, "mp4a", 16, [0, 2])).channels).toBe(1);
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
    ["a codec that is not taken", makeTrack("mp3", 1).init],
    ["a picture of 64 megapixels", patched(init, "avc1", 24, [0x20, 0x00, 0x20, 0x00])],
    ["a picture without a size", patched(init, "avc1", 24, [0, 0])],
    ["a box after the other", joinBytes(init, ...Array<Uint8Array>(200).fill(box("free")))],
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

  it.each([
    ["runs without end", run(1_000_000, 100)],
    ["one run of more samples than 30 s can have", run(12_001, 1)],
    ["more runs than a segment has", run(1, 65)],
    ["a start of 2^53 - 1", moved(Number.MAX_SAFE_INTEGER)],
    ["a start near 2^63", moved(2 ** 63 - 2048)],
    ["a start a day after its take", moved(info.timescale * 86_400)],
  ])("as segment: %s", (_, bytes) => {
    const { message } = refusal(() => readSegment(bytes, info));
    expect(message.length).toBeLessThan(200);
  });

  it("millions of tiny units in a first sample", () => {
    const sample = Buffer.alloc(5 * 1_000_000);
    for (let i = 0; i < sample.length; i += 5) sample.writeUInt32BE(1, i);
    refusal(() => readSegment(whole([[sample.length, 1]], sample), info));
  });

  // What 2 kB, 80 kB and 16 MiB of the worst that was found cost before: 1.4 s, 73 s, 3.3 s and 770 MB.
  it("any body of 64 kB is decided in 20 ms of processor, any of 16 MiB in 300 ms, without taking memory", () => {
    const random = randomBytes(7);
    const bodies = [
      ...[100, 2_000].map((n) => run(1_000_000, n)),
      ...[8_000, 2_000_000].map((n) => Buffer.concat(Array<Uint8Array>(n).fill(box("free")))),
      ...[60_000, 16_000_000].map((n) => whole([[n, 1]], Buffer.alloc(n, 0))),
      ...[60_000, 16_000_000].map((n) => whole([[n, 1]], Buffer.alloc(n, 1))),
      ...[60_000, 16_000_000].map((n) => random(n)),
    ];
    const memory = process.memoryUsage().arrayBuffers;
    for (const body of bodies) {
      const limit = body.length <= 65_536 ? 20 : 300;
      expect(leastCost(() => attempt(() => readSegment(body, info)))).toBeLessThan(limit);
      expect(leastCost(() => attempt(() => readInit(body)))).toBeLessThan(limit);
    }
    expect(process.memoryUsage().arrayBuffers - memory).toBeLessThan(1_000_000);
  });

  it("never fails in another way, and never says what cannot be, whatever is wrong with the bytes", () => {
    const next = random(3);
    const kinds = ["screen", "vp9", "microphone", "aac"] as const;
    const tracks = kinds.map((kind) => makeTrack(kind, 5));
    const infos = tracks.map((track) => readInit(track.init));
    for (let n = 0; n < 6_000; n++) {
      const which = n % tracks.length;
      const isInit = next() < 0.4;
      const from = isInit ? tracks[which]!.init : tracks[which]!.segments[0]!;
      const broken = Buffer.from(from.subarray(0, next() < 0.2 ? Math.floor(next() * from.length) : from.length));
      const head = Math.min(broken.length, 1_500);
      for (let k = 0; k <= next() * 4; k++) {
        const at = Math.floor(next() * head);
        // A byte, or a number of four, at the extremes where sums overflow.
        if (next() < 0.5 || at + 4 > broken.length) broken[at] = Math.floor(next() * 256);
        else broken.writeUInt32BE([0, 1, 0x7fffffff, 0x80000000, 0xffffffff][Math.floor(next() * 5)]!, at);
      }
      attempt(() => {
        if (isInit) return void readInit(broken);
        const told = readSegment(broken, infos[which]!);
        const { timescale } = infos[which]!;
        expect(told.frames).toBeLessThanOrEqual(12_000);
        expect(told.duration).toBeLessThanOrEqual(30 * timescale);
        expect(told.start + told.duration).toBeLessThanOrEqual(86_400 * timescale);
      });
    }
  });

  /** A copy of the segment whose `tfdt` says another start. */
  function moved(start: number): Uint8Array {
    const copy = Buffer.from(segment);
    const at = copy.indexOf("tfdt");
    if (copy[at + 4] !== 1) throw new Error("a long tfdt is expected here");
    copy.writeBigUInt64BE(BigInt(start), at + 8);
    return copy;
  }

  /** A segment of so many runs, each said to have so many samples of which none has fields of its own. */
  function run(samples: number, runs: number): Uint8Array {
    return whole(
      Array.from({ length: runs }, () => [0, samples] as const),
      Buffer.alloc(16),
    );
  }

  function whole(runs: readonly (readonly [size: number, samples: number])[], media: Uint8Array): Uint8Array {
    const truns = runs.map(([, samples]) => box("trun", 0, 0, 0, 1, ...int(samples), ...int(0)));
    const tfhd = box("tfhd", 0, 2, 0, 0x18, ...int(info.trackId), ...int(1), ...int(runs[0]![0]));
    const traf = box("traf", ...tfhd, ...box("tfdt", 0, 0, 0, 0, ...int(0)), ...truns.flatMap((t) => [...t]));
    const moof = box("moof", ...box("mfhd", 0, 0, 0, 0, ...int(1)), ...traf);
    const out = Buffer.from(joinBytes(moof, Buffer.from(int(media.length + 8)), Buffer.from("mdat"), media));
    // The first sample begins where the media does.
    for (let at = out.indexOf("trun"); at > 0 && at < moof.length; at = out.indexOf("trun", at + 1)) {
      out.writeInt32BE(moof.length + 8, at + 12);
    }
    return out;
  }
});

const int = (n: number) => [(n >>> 24) & 255, (n >>> 16) & 255, (n >>> 8) & 255, n & 255];
function box(type: string, ...body: number[]): Uint8Array {
  return Uint8Array.from([...int(body.length + 8), ...Buffer.from(type), ...body]);
}

/** A copy with other bytes so far behind a name. */
function patched(bytes: Uint8Array, name: string, offset: number, to: number[]): Uint8Array {
  const copy = Buffer.from(bytes);
  copy.set(to, copy.indexOf(name) + 4 + offset);
  return copy;
}

function refusal(read: () => unknown): MediaError {
  try {
    read();
  } catch (error) {
    expect(error).toBeInstanceOf(MediaError);
    return error as MediaError;
  }
  throw new Error("it was taken");
}

function attempt(read: () => void): void {
  try {
    read();
  } catch (error) {
    if (!(error instanceof MediaError)) throw error;
  }
}

/** The least processor time of three tries, in ms: what else the machine does is not counted. */
function leastCost(work: () => void): number {
  const tries = Array.from({ length: 3 }, () => {
    const before = process.cpuUsage();
    work();
    return process.cpuUsage(before).user / 1000;
  });
  return Math.min(...tries);
}

/** A small generator of its own, so that a failure can be seen again. */
function random(seed: number): () => number {
  return () => (seed = (seed * 1_103_515_245 + 12_345) % 2 ** 31) / 2 ** 31;
}

function randomBytes(seed: number): (count: number) => Uint8Array {
  const next = random(seed);
  return (count) => {
    const out = Buffer.alloc(count);
    for (let i = 0; i < count; i += 4) out.writeUInt32LE(Math.floor(next() * 2 ** 32), Math.min(i, count - 4));
    return out;
  };
}
