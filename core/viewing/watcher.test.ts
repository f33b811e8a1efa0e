import { describe, expect, it } from "vitest";
import { Watcher } from "./watcher";

const S = 1_000_000;
const look = (w: Watcher, seconds: number, more: { playing?: boolean; rate?: number; unseen?: boolean } = {}) =>
  w.look({ time: seconds * S, playing: true, rate: 1, unseen: false, ...more });
const spans = (w: Watcher) => w.take().map((s) => [s.from / S, s.to / S, s.rate]);

describe("watching", () => {
  it("is one span from play to pause", () => {
    const w = new Watcher();
    look(w, 0, { playing: false });
    for (let t = 1; t <= 5; t += 0.25) look(w, t);
    look(w, 5.1, { playing: false });
    look(w, 5.1, { playing: false });
    expect(spans(w)).toEqual([[1, 5.1, 1]]);
  });

  it("leaves out what was sought over, forward and backward", () => {
    const w = new Watcher();
    look(w, 0);
    look(w, 2);
    look(w, 30);
    look(w, 31);
    look(w, 10);
    look(w, 12);
    w.sought();
    look(w, 13);
    look(w, 14);
    expect(spans(w)).toEqual([
      [0, 2, 1],
      [30, 31, 1],
      [10, 12, 1],
      [13, 14, 1],
    ]);
  });

  it("ends a span where the speed changes, and where the page is hidden and silent", () => {
    const w = new Watcher();
    look(w, 0);
    look(w, 1);
    look(w, 2, { rate: 2 });
    look(w, 4, { rate: 2 });
    look(w, 4.5, { rate: 2, unseen: true });
    look(w, 8, { rate: 2, unseen: true });
    look(w, 8.5, { rate: 2 });
    look(w, 9.5, { rate: 2 });
    expect(spans(w)).toEqual([
      [0, 2, 1],
      [2, 4.5, 2],
      [8.5, 9.5, 2],
    ]);
  });

  it("goes on over batches without a gap and without counting twice", () => {
    const w = new Watcher();
    const batches: number[][] = [];
    for (let t = 0; t <= 10; t++) {
      look(w, t);
      if (t % 4 === 3) batches.push(...spans(w));
    }
    batches.push(...spans(w));
    expect(batches).toEqual([
      [0, 3, 1],
      [3, 7, 1],
      [7, 10, 1],
    ]);
    expect(spans(w)).toEqual([]);
  });
});
