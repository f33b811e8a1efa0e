import { describe, expect, it } from "vitest";
import { SourceClock } from "./clock";

describe("source clock", () => {
  it("leaves pauses out, however often they are asked for", () => {
    const clock = new SourceClock();
    expect([clock.at(5), clock.running]).toEqual([0, false]);
    clock.start(1000);
    expect(clock.at(3500)).toBe(2_500_000);
    clock.pause(4000);
    clock.pause(4500);
    expect([clock.at(9000), clock.running]).toEqual([3_000_000, false]);
    clock.resume(10_000);
    clock.resume(11_000);
    expect([clock.at(10_500), clock.running]).toEqual([3_500_000, true]);
    expect(clock.at(0)).toBe(0);
  });

  it("stands still where nobody looked for long, and goes on where somebody did", () => {
    const clock = new SourceClock();
    expect(clock.look(0)).toBeNull();
    clock.start(1000);
    expect(clock.look(1008)).toBeNull();
    // As long as a busy computer may take.
    expect(clock.look(6008)).toBeNull();
    expect(clock.at(6008)).toBe(5_008_000);
    expect(clock.look(66_008)).toEqual({ from: 6008, to: 66_008 });
    expect(clock.at(66_016)).toBe(5_016_000);
    expect(clock.look(66_016)).toBeNull();
    // What is paused is not looked at.
    clock.pause(66_100);
    expect(clock.look(166_000)).toBeNull();
    clock.resume(166_100);
    expect(clock.look(166_108)).toBeNull();
    expect(clock.at(166_200)).toBe(5_200_000);
  });
});
