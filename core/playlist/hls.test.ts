import * as HLS from "hls-parser";
import { Parser } from "m3u8-parser";
import { describe, expect, it } from "vitest";
import { writeMainPlaylist, writeMediaPlaylist, type ListedTrack } from "./hls";

const m3u8 = (text: string) => {
  const parser = new Parser();
  parser.push(text);
  parser.end();
  return parser.manifest;
};
const segments = [2_000_000, 2_000_000, 1_366_667].map((duration, i) => ({ uri: `${i + 1}.m4s`, duration }));
const screen: ListedTrack = {
  uri: "screen.m3u8",
  codec: "avc1.64002a",
  peakRate: 2_500_000.2,
  averageRate: 900_000,
  width: 1920,
  height: 1080,
};
const sound: ListedTrack = {
  uri: "microphone.m3u8",
  codec: "opus",
  peakRate: 70_000,
  averageRate: 64_000,
  channels: 1,
};

// Outside check: RFC 8216 as two independent parsers understand it.
describe("media playlists", () => {
  it.each([true, false])("are read alike by two parsers (complete: %s)", (complete) => {
    const text = writeMediaPlaylist({ runs: [{ initUri: "init.mp4", segments }], complete });
    const a = HLS.parse(text) as HLS.types.MediaPlaylist;
    const b = m3u8(text);
    expect(a.segments.map((s) => [s.uri, s.duration, s.map?.uri])).toEqual(
      segments.map((s) => [s.uri, s.duration / 1e6, "init.mp4"]),
    );
    expect(b.segments.map((s) => [s.uri, s.duration, s.map.uri])).toEqual(
      segments.map((s) => [s.uri, s.duration / 1e6, "init.mp4"]),
    );
    expect([a.endlist, b.endList ?? false]).toEqual([complete, complete]);
    expect([a.playlistType, b.playlistType]).toEqual(complete ? ["VOD", "VOD"] : ["EVENT", "EVENT"]);
    expect([a.version, a.independentSegments, a.mediaSequenceBase, b.mediaSequence]).toEqual([7, true, 1, 1]);
    // RFC 8216, 4.3.3.1: every duration, rounded, is at most the target.
    for (const s of b.segments) expect(Math.round(s.duration)).toBeLessThanOrEqual(b.targetDuration);
  });

  it("keep their target while they grow, and raise it only for a longer segment", () => {
    const target = (list: typeof segments) =>
      m3u8(writeMediaPlaylist({ runs: [{ initUri: "i", segments: list }], complete: false })).targetDuration;
    expect(target(segments)).toBe(target([]));
    expect(target([{ uri: "x", duration: 6_700_000 }])).toBe(7);
  });

  it("name the init segment of each run, and what nothing is there for", () => {
    const runs = [
      { initUri: "init.mp4", segments: segments.slice(0, 2) },
      { initUri: "init-2.mp4", segments: segments.slice(2), gap: 4_000_000 },
    ];
    const text = writeMediaPlaylist({ runs, complete: true });
    const said = m3u8(text).segments.map((s) => [s.uri, s.map.uri]);
    expect(said).toEqual([
      ["1.m4s", "init.mp4"],
      ["2.m4s", "init.mp4"],
      // In parts: the target stays what it was.
      ["gap.m4s", "init-2.mp4"],
      ["gap.m4s", "init-2.mp4"],
      ["3.m4s", "init-2.mp4"],
    ]);
    const list = HLS.parse(text) as HLS.types.MediaPlaylist;
    expect([list.version, list.targetDuration, list.segments.map((s) => s.gap ?? false)]).toEqual([
      8,
      3,
      [false, false, true, true, false],
    ]);
    const lengths = list.segments.map((s) => s.duration);
    expect(lengths.slice(2, 4)).toEqual([3, 1]);
    expect(list.segments.some((s) => s.discontinuity)).toBe(false);
  });

  it("may have no segment yet", () => {
    expect(m3u8(writeMediaPlaylist({ runs: [{ initUri: "i", segments: [] }], complete: false })).segments).toEqual([]);
  });
});

describe("main playlists", () => {
  it("name the picture and its sound", () => {
    const text = writeMainPlaylist(screen, sound);
    const [variant] = (HLS.parse(text) as HLS.types.MasterPlaylist).variants;
    expect(variant).toMatchObject({
      uri: "screen.m3u8",
      bandwidth: 2_570_001,
      averageBandwidth: 964_000,
      codecs: "avc1.64002a,opus",
    });
    expect(variant!.resolution).toEqual({ width: 1920, height: 1080 });
    expect(variant!.audio[0]).toMatchObject({ uri: "microphone.m3u8", isDefault: true, channels: "1" });
    const other = m3u8(text);
    expect(other.playlists![0]).toMatchObject({
      uri: "screen.m3u8",
      attributes: { CODECS: "avc1.64002a,opus", BANDWIDTH: 2_570_001 },
    });
    expect(other.mediaGroups.AUDIO.sound!.Sound!.uri).toBe("microphone.m3u8");
  });

  it("name a picture without sound, and a sound alone", () => {
    const silent = (HLS.parse(writeMainPlaylist(screen, null)) as HLS.types.MasterPlaylist).variants[0]!;
    expect([silent.uri, silent.codecs, silent.audio]).toEqual(["screen.m3u8", "avc1.64002a", []]);
    const alone = (HLS.parse(writeMainPlaylist(null, sound)) as HLS.types.MasterPlaylist).variants[0]!;
    expect([alone.uri, alone.codecs, alone.resolution]).toEqual(["microphone.m3u8", "opus", undefined]);
    expect(() => writeMainPlaylist(null, null)).toThrow();
  });
});
