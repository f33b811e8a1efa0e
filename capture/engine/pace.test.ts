import { describe, expect, it } from "vitest";
import { Pace, PACE } from "./pace";

/** An encoder that turns out one packet for every `cost` frames of the grid, for so many frames. */
function run(pace: Pace, frames: number, cost: (index: number) => number, from = 0) {
  let work = 0;
  for (let index = from; index < from + frames; index++) {
    pace.reach(index);
    if (pace.counts.inHand === 0) work = 0;
    else work += 1 / cost(index);
    while (work >= 1 && pace.counts.inHand > 0) {
      pace.packet();
      work--;
    }
  }
  return pace.counts;
}

describe("pace of a picture track", () => {
  it("gives every frame while packets come out as fast", () => {
    expect(run(new Pace(), 9000, () => 0.5)).toEqual({ due: 9000, given: 9000, inHand: 0, step: 1 });
  });

  it("never has more in hand than it may, however slow the encoder is", () => {
    const pace = new Pace();
    for (let index = 0; index < 5000; index++) {
      pace.reach(index);
      if (index % 40 === 0) pace.packet();
      expect(pace.counts.inHand).toBeLessThanOrEqual(PACE.inHandMost);
    }
  });

  it("halves the rate when frames are left out on and on, and comes back when there is room", () => {
    const pace = new Pace();
    // Busy for 20 s: three frames in two, so that half the rate is enough and the whole is not.
    expect(run(pace, 600, () => 1.6).step).toBe(2);
    expect(run(pace, 1200, () => 0.6, 600).step).toBe(1);
    const { given } = pace.counts;
    expect(run(pace, 900, () => 0.6, 1800).given - given).toBe(900);
  });

  it("forgets drops that are long ago: 31 in an hour change nothing", () => {
    const pace = new Pace();
    for (let index = 0; index < 108_000; index++) {
      pace.reach(index);
      // A hiccup every two minutes: nothing comes out for nine frames.
      if (index % 3600 > 9) while (pace.counts.inHand > 0) pace.packet();
    }
    expect(pace.counts.step).toBe(1);
    expect(pace.counts.due - pace.counts.given).toBeGreaterThan(31);
  });

  it("tries less and less often on a computer that stays too slow", () => {
    const pace = new Pace();
    let tries = 0;
    let before = 1;
    for (let n = 0; n < 60; n++) {
      const { step } = run(pace, 300, () => 1.6, n * 300);
      if (before === 2 && step === 1) tries++;
      before = step;
    }
    expect(tries).toBeLessThanOrEqual(6);
    expect(pace.counts.given / pace.counts.due).toBeGreaterThan(0.45);
  });

  it("counts frames whose moment was slept through as due", () => {
    const pace = new Pace();
    pace.reach(0);
    pace.reach(10);
    expect(pace.counts).toMatchObject({ due: 11, given: 2 });
  });
});
