import { describe, expect, it } from "vitest";
import { Hearing } from "./hearing";

describe("listening to a microphone", () => {
  it("takes digital silence as no microphone, after two seconds, and a quiet room as one", () => {
    const dead = new Hearing();
    expect(dead.next(0, false, 0).delivering).toBe(true);
    expect(dead.next(0, false, 1_900).delivering).toBe(true);
    expect(dead.next(0, false, 2_000).delivering).toBe(false);
    expect(dead.next(0.0001, false, 2_100).delivering).toBe(true);
    const room = new Hearing();
    for (let now = 0; now <= 30_000; now += 100) room.next(0.0003, false, now);
    expect(room.next(0.0003, false, 30_100)).toEqual({ delivering: true, quietFor: 30_100 });
    expect(room.next(0.2, false, 30_200).quietFor).toBe(0);
  });

  it("takes a muted one as none, however loud", () => {
    const muted = new Hearing();
    muted.next(0.5, true, 0);
    expect(muted.next(0.5, true, 2_500)).toEqual({ delivering: false, quietFor: 2_500 });
  });
});
