import { describe, expect, it } from "vitest";
import { InHand } from "./in-hand";

const code = (work: () => void) => {
  try {
    work();
    return "taken";
  } catch (problem) {
    return (problem as { code: string }).code;
  }
};

describe("what is on its way", () => {
  it("is so much of one, and of all, and free again when it has come or was refused", () => {
    const held = new InHand(100, 60);
    expect(code(() => held.take("a", 60))).toBe("taken");
    expect(code(() => held.take("a", 1))).toBe("busy");
    expect(code(() => held.take("b", 40))).toBe("taken");
    expect(code(() => held.take("c", 1))).toBe("busy");
    held.give("a", 60);
    expect(code(() => held.take("c", 60))).toBe("taken");
    held.give("b", 40);
    held.give("c", 60);
    expect(held.bytes).toBe(0);
  });
});
