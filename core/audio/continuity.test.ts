import { describe, expect, it } from "vitest";
import { place } from "./continuity";

describe("sound without holes", () => {
  it.each([
    [0, 0, { silence: 0, skip: 0 }],
    [4800, 5000, { silence: 0, skip: 0 }],
    [4800, 48_000, { silence: 43_200, skip: 0 }],
    [48_000, 47_700, { silence: 0, skip: 300 }],
    [48_000, 0, { silence: 0, skip: 480 }],
  ])("written %d, wanted at %d", (written, wanted, placed) => expect(place(written, wanted, 480, 240)).toEqual(placed));

  it("keeps within its tolerance of the clock over an hour with a drifting device", () => {
    // A device that delivers 480 samples every 10.002 ms of our clock: 0.02 % slow.
    let written = 0;
    let most = 0;
    for (let n = 0; n < 360_000; n++) {
      const wanted = Math.round(n * 10.002 * 48);
      const { silence, skip } = place(written, wanted, 480, 1920);
      written += silence + 480 - skip;
      most = Math.max(most, Math.abs(written - wanted - 480));
    }
    expect(most).toBeLessThanOrEqual(1921);
  });
});
