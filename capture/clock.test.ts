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
});
