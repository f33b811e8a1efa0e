import { describe, expect, it } from "vitest";
import { inOrder } from "./store";

describe("a list that is kept up to date", () => {
  const c = (id: string, at: number, createdAt: string) => ({ id, at, createdAt });
  const list = [c("a", 1, "1"), c("b", 3, "2"), c("d", 3, "4")];
  it("takes an item in at its time, and at the same time in the order of writing", () => {
    expect(inOrder(list, "c", c("c", 3, "3")).map((x) => x.id)).toEqual(["a", "b", "c", "d"]);
    expect(inOrder(list, "e", c("e", 9, "0")).map((x) => x.id)).toEqual(["a", "b", "d", "e"]);
    expect(inOrder([], "e", c("e", 9, "0")).map((x) => x.id)).toEqual(["e"]);
  });
  it("is the same however often it is told", () => {
    const once = inOrder(list, "b", c("b", 2, "2"));
    expect(inOrder(once, "b", c("b", 2, "2"))).toEqual(once);
    expect(once).toHaveLength(3);
  });
  it("loses what was taken back, and nothing for what was never there", () => {
    expect(inOrder(list, "b", null).map((x) => x.id)).toEqual(["a", "d"]);
    expect(inOrder(list, "x", null)).toEqual(list);
  });
});
