import { expect, it } from "vitest";
import { Watchable } from "./watchable";

class Lamp extends Watchable<{ lit: boolean; turns: number }> {
  constructor() {
    super({ lit: false, turns: 0 });
  }
  turn = () => this.set({ lit: !this.snapshot().lit, turns: this.snapshot().turns + 1 });
  close = () => this.forgetListeners();
}

it("is another object after a change and the same one until then, and tells whoever listens", () => {
  const lamp = new Lamp();
  const before = lamp.snapshot();
  expect(lamp.snapshot()).toBe(before);
  const heard: number[] = [];
  const leave = lamp.subscribe(() => heard.push(lamp.snapshot().turns));
  lamp.turn();
  expect([before, lamp.snapshot()]).toEqual([
    { lit: false, turns: 0 },
    { lit: true, turns: 1 },
  ]);
  leave();
  lamp.turn();
  expect(heard).toEqual([1]);
});

it("tells all who were there, also when one of them leaves while it is told", () => {
  const lamp = new Lamp();
  const heard: string[] = [];
  const leave = lamp.subscribe(() => {
    heard.push("first");
    leave();
    lamp.subscribe(() => heard.push("late"));
  });
  lamp.subscribe(() => heard.push("second"));
  lamp.turn();
  expect(heard).toEqual(["first", "second"]);
  lamp.close();
  lamp.turn();
  expect(heard).toEqual(["first", "second"]);
});
