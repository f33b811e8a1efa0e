import { describe, expect, it } from "vitest";
import { FramedSound } from "./frames";

/** Gives each frame back one frame later, doubled. */
function late(size: number) {
  let before = new Float32Array(size);
  return (frame: Float32Array<ArrayBuffer>) => {
    const now = frame.map((v) => 2 * v);
    frame.set(before);
    before = now;
  };
}

describe("sound in frames", () => {
  it.each([1, 7, 480, 481, 960, 5_000])("comes out whole and in its place, in blocks of %d", (block) => {
    const input = Float32Array.from({ length: 4_999 }, (_, i) => i + 1);
    const framed = new FramedSound(late(480), 480, 480);
    const out: number[] = [];
    for (let from = 0; from < input.length; from += block) out.push(...framed.push(input.subarray(from, from + block)));
    // No more is held back than the delay and a frame.
    expect(input.length - out.length).toBeLessThanOrEqual(960);
    out.push(...framed.flush());
    expect(out).toEqual([...input].map((v) => 2 * v));
    expect(framed.flush()).toHaveLength(0);
  });

  it("is nothing where nothing went in", () => {
    const framed = new FramedSound(late(4), 4, 4);
    expect(framed.push(new Float32Array(0))).toHaveLength(0);
    expect(framed.flush()).toHaveLength(0);
  });

  it("has what is shorter than a frame", () => {
    const framed = new FramedSound(late(4), 4, 4);
    expect(framed.push(Float32Array.of(1, 2))).toHaveLength(0);
    expect([...framed.flush()]).toEqual([2, 4]);
  });
});
