import { describe, expect, it } from "vitest";
import { joinBytes, splitTrack } from "./split";

const box = (type: string, body: number[] = []) =>
  Uint8Array.from([0, 0, 0, 8 + body.length, ...[...type].map((c) => c.charCodeAt(0)), ...body]);

describe("cutting a fragmented file", () => {
  it("finds what describes the track, and its segments, and leaves the rest out", () => {
    const file = joinBytes([
      box("ftyp", [1]),
      box("moov", [2]),
      box("sidx"),
      box("moof", [3]),
      box("mdat", [4]),
      box("moof", [5]),
      box("mdat", [6]),
      box("mfra"),
    ]);
    const { init, segments } = splitTrack(file);
    expect(init).toEqual(joinBytes([box("ftyp", [1]), box("moov", [2])]));
    expect(segments).toEqual([
      joinBytes([box("moof", [3]), box("mdat", [4])]),
      joinBytes([box("moof", [5]), box("mdat", [6])]),
    ]);
  });

  it("refuses a file that is cut off, and boxes of no size", () => {
    expect(() => splitTrack(box("mdat", [1, 2, 3]).subarray(0, 9))).toThrow(RangeError);
    expect(() => splitTrack(new Uint8Array(16))).toThrow(RangeError);
    expect(splitTrack(new Uint8Array(0)).segments).toEqual([]);
  });
});
