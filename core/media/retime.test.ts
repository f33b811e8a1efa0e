import { describe, expect, it } from "vitest";
import { decodeComplaints, joinBytes, makeTrack, probePackets } from "../../testing/media";
import { readInit } from "./init";
import { retime, shiftTicks } from "./retime";
import { readSegment } from "./segment";

describe("a segment at another time", () => {
  it.each(["screen", "microphone", "aac"] as const)("is the same %s, later", (kind) => {
    const { init, segments } = makeTrack(kind, 5);
    const info = readInit(init);
    const before = readSegment(segments[0]!, info);
    const later = retime(Buffer.from(segments[0]!), 7 * info.timescale);
    expect(readSegment(later, info)).toEqual({ ...before, start: before.start + 7 * info.timescale });
    expect(later.length).toBe(segments[0]!.length);
    // What was given is not touched, also where it is a Buffer, whose `slice` would not copy.
    expect(readSegment(segments[0]!, info)).toEqual(before);
    expect(retime(segments[0]!, 0)).toBe(segments[0]);
    // Outside check: ffprobe finds it there, with as many packets, and ffmpeg decodes it.
    const [here, there] = [segments[0]!, later].map((s) => probePackets(joinBytes(init, s)));
    expect(there!.packets).toBe(here!.packets);
    expect(there!.start - here!.start).toBeCloseTo(7, 3);
    expect(decodeComplaints(joinBytes(init, later))).toBe("");
  });

  it("refuses a time before the beginning, and bytes that have none", () => {
    const { segments } = makeTrack("screen", 5);
    expect(() => retime(segments[0]!, -1)).toThrow(RangeError);
    expect(() => retime(new Uint8Array(), 5)).toThrow(/traf/);
  });
});

describe("the shift of a run", () => {
  it("is whole frames for pictures, and whole packets for sound", () => {
    expect(shiftTicks({ start: 0, shown: 300 }, 1, 0)).toBe(300);
    expect(shiftTicks({ start: 0, shown: 48_100 }, 960, 0)).toBe(48_000);
    expect(shiftTicks({ start: 0, shown: 48_500 }, 960, 0)).toBe(48_960);
  });

  it("keeps all packets on one grid, and never adds up its error", () => {
    // 20 runs of odd lengths, as takes of which each begins its sound a little late.
    let shown = 100;
    for (let run = 0; run < 20; run++) {
      const start = 37 * run;
      const begins = start + shiftTicks({ start, shown: shown + start }, 1024, 100);
      expect((begins - 100) % 1024).toBe(0);
      expect(Math.abs(begins - shown - start)).toBeLessThanOrEqual(512);
      shown += 333_333.4;
    }
  });
});
