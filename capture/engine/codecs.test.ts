import { describe, expect, it } from "vitest";
import { chooseCodec } from "./codecs";

describe("codec choice", () => {
  const size = { width: 1280, height: 720, bitrate: 1_000_000 };
  it.each([
    [["avc", "vp9", "vp8"], "avc"],
    [["vp8", "vp9"], "vp9"],
    [["vp8"], "vp8"],
  ])("with %j takes %s", async (able, chosen) => {
    expect(await chooseCodec(size, async (codec) => able.includes(codec))).toBe(chosen);
  });
  it("says so when there is none", async () => {
    await expect(chooseCodec(size, async () => false)).rejects.toThrow(/none of H.264, VP9 and VP8 at 1280 × 720/);
  });
});
