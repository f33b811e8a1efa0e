import { setImmediate as soon } from "node:timers/promises";
import { describe, expect, it } from "vitest";
import type { Problem } from "./http/problem";
import { Turns, type Whose } from "./turns";

const policy = { atOnce: 1, waitingOfOne: 100, waiting: 150, busy: "Wait a little." };

/** Work that ends when it is told to, and a list of what was begun. */
function bench(turns: Turns) {
  const begun: string[] = [];
  const ends: (() => void)[] = [];
  const ask = (name: string, whose: Whose) =>
    turns.take(whose, async () => {
      begun.push(name);
      await new Promise<void>((end) => ends.push(end));
      return name;
    });
  const endAll = async () => {
    for (let idle = 0; idle < 3; idle++) {
      while (ends.length > 0) {
        ends.shift()!();
        idle = 0;
      }
      await soon();
    }
  };
  return { begun, ask, endAll };
}

describe("turns", () => {
  it("keep nobody waiting for all that another one asks", async () => {
    const { begun, ask, endAll } = bench(new Turns(policy));
    const flood = Array.from({ length: 90 }, (_, n) => ask(`mallory ${n}`, { one: "mallory" }));
    const others = ["ida", "tom"].map((one) => ask(one, { one }));
    await endAll();
    expect(begun.slice(0, 4).sort()).toEqual(["ida", "mallory 0", "mallory 1", "tom"]);
    expect(await Promise.all([...flood, ...others])).toHaveLength(92);
    expect(begun).toHaveLength(92);
  });

  it("are taken by lanes first", async () => {
    const { begun, ask, endAll } = bench(new Turns(policy));
    const all = [
      ask("running", { one: "x" }),
      ...Array.from({ length: 20 }, (_, n) => ask(`link ${n}`, { lane: "links", one: `address ${n}` })),
      ask("known", { lane: "known", one: "ida" }),
    ];
    await endAll();
    await Promise.all(all);
    expect(begun.indexOf("known")).toBeLessThanOrEqual(2);
  });

  it("refuse what is too much of one, and of all, and forget it", async () => {
    const turns = new Turns(policy);
    const { ask, endAll } = bench(turns);
    const asked = (one: string, count: number) => Array.from({ length: count }, () => ask(one, { one }));
    const all = Promise.allSettled([...asked("a", 110), ...asked("b", 60), ...asked("c", 1)]);
    await endAll();
    const refused = (await all).flatMap((r) => (r.status === "rejected" ? [r.reason as Problem] : []));
    // One of "a" ran, 100 waited; of "b" 50 found a place, and "c" none.
    expect(refused).toHaveLength(9 + 10 + 1);
    expect(refused[0]).toMatchObject({ status: 503, code: "busy", detail: { retryAfter: 5 } });
    const after = ask("after", { one: "c" });
    await endAll();
    expect(await after).toBe("after");
  });

  it("go on after work that failed", async () => {
    const turns = new Turns(policy);
    const failing = turns.take({ one: "a" }, () => Promise.reject(new Error("no")));
    const next = turns.take({ one: "a" }, () => Promise.resolve("yes"));
    await expect(failing).rejects.toThrow("no");
    expect(await next).toBe("yes");
  });
});
