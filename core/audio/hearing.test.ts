import { describe, expect, it } from "vitest";
import { alarmOf, Hearing } from "./hearing";

describe("listening to a microphone", () => {
  it("takes digital silence as no microphone, after two seconds, and a quiet room as one", () => {
    const dead = new Hearing();
    expect(dead.next(0, false, 0).delivering).toBe(true);
    expect(dead.next(0, false, 1_900).delivering).toBe(true);
    expect(dead.next(0, false, 2_000).delivering).toBe(false);
    expect(dead.next(0.0001, false, 2_100).delivering).toBe(true);
    const room = new Hearing();
    for (let now = 0; now <= 30_000; now += 100) room.next(0.0003, false, now);
    expect(room.next(0.0003, false, 30_100)).toEqual({ delivering: true, quietFor: 30_100, clipping: false });
    expect(room.next(0.2, false, 30_200).quietFor).toBe(0);
  });

  it("hears what is cut off, again and again, and lets a knock pass", () => {
    const loud = new Hearing();
    expect([0, 250, 500].map((now) => loud.next(1.2, false, now).clipping)).toEqual([false, false, true]);
    expect(loud.next(0.3, false, 3_900).clipping).toBe(true);
    expect(loud.next(0.3, false, 4_300).clipping).toBe(false);
    expect(loud.next(1, false, 9_000).clipping).toBe(false);
  });

  it.each([
    ["a voice", { delivering: true, quietFor: 900, clipping: false }, 0, null],
    [
      "a pause of six seconds while something is shown",
      { delivering: true, quietFor: 6_100, clipping: false },
      200,
      "quiet",
    ],
    ["a pause while nothing moves", { delivering: true, quietFor: 60_000, clipping: false }, 30_000, null],
    ["what is cut off", { delivering: true, quietFor: 0, clipping: true }, 0, "clipping"],
    ["no sample at all", { delivering: false, quietFor: 9_000, clipping: false }, 30_000, "dead"],
  ] as const)("%s is told as it is", (_, heard, stillFor, alarm) => expect(alarmOf(heard, stillFor)).toBe(alarm));

  it("takes a muted one as none, however loud", () => {
    const muted = new Hearing();
    muted.next(0.5, true, 0);
    expect(muted.next(0.5, true, 2_500)).toEqual({ delivering: false, quietFor: 2_500, clipping: false });
  });
});
