import { describe, expect, it } from "vitest";
import { someSpans } from "../../testing/spans";
import { fold, NOTHING_FOLDED } from "./fold";
import { packFolded, unpackFolded } from "./pack";

describe("folded spans as bytes", () => {
  it("come back as they were, from any place in a buffer", () => {
    for (const folded of [NOTHING_FOLDED, fold(NOTHING_FOLDED, someSpans(500, 9, 4_000, 3), 9)]) {
      const bytes = packFolded(folded);
      expect(unpackFolded(bytes)).toEqual(folded);
      const shifted = new Uint8Array(bytes.length + 3);
      shifted.set(bytes, 3);
      expect(unpackFolded(shifted.subarray(3))).toEqual(folded);
    }
  });

  it("are refused when they are something else, or cut", () => {
    const bytes = packFolded(fold(NOTHING_FOLDED, someSpans(50, 3, 4_000, 3), 3));
    for (const wrong of [new Uint8Array(0), new Uint8Array(64), bytes.subarray(0, bytes.length - 4), bytes.subarray(4)])
      expect(() => unpackFolded(wrong)).toThrow(RangeError);
  });
});
