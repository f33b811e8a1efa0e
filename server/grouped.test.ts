import { describe, expect, it } from "vitest";
import { Grouped } from "./grouped";

describe("work done in rounds", () => {
  it("gives one caller a round of its own, and gathers who comes meanwhile", async () => {
    const rounds: number[][] = [];
    const grouped = new Grouped<number, number>(async (items) => {
      rounds.push(items);
      await Promise.resolve();
      return items.map((n) => n * n);
    }, 3);
    expect(await Promise.all([1, 2, 3, 4, 5].map((n) => grouped.add(n)))).toEqual([1, 4, 9, 16, 25]);
    expect(rounds).toEqual([[1], [2, 3, 4], [5]]);
    expect(await grouped.add(6)).toBe(36);
  });

  it("one bad item among many fails alone", async () => {
    const rounds: number[][] = [];
    const grouped = new Grouped<number, number>(async (items) => {
      rounds.push(items);
      await Promise.resolve();
      if (items.includes(3)) throw new Error("no");
      return items;
    }, 10);
    const results = await Promise.allSettled([1, 2, 3, 4].map((n) => grouped.add(n)));
    expect(results.map((r) => r.status)).toEqual(["fulfilled", "fulfilled", "rejected", "fulfilled"]);
    expect(rounds).toEqual([[1], [2, 3, 4], [2], [3], [4]]);
  });

  it("a round that fails fails for those in it, and for nobody after", async () => {
    const grouped = new Grouped<number, number>(async (items) => {
      if (items.includes(2)) throw new Error("no");
      return items;
    }, 1);
    expect(await Promise.allSettled([1, 2, 3].map((n) => grouped.add(n)))).toMatchObject([
      { value: 1 },
      { status: "rejected" },
      { value: 3 },
    ]);
  });
});
