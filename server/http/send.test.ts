import { describe, expect, it } from "vitest";
import { parseRange } from "./send";

// Outside check: the examples of RFC 9110, section 14.1.2, for a representation of 10,000 bytes (from memory).
describe("byte ranges", () => {
  it.each([
    ["bytes=0-499", { from: 0, to: 499 }],
    ["bytes=500-999", { from: 500, to: 999 }],
    ["bytes=-500", { from: 9500, to: 9999 }],
    ["bytes=9500-", { from: 9500, to: 9999 }],
    ["bytes=9500-99999", { from: 9500, to: 9999 }],
    ["bytes=-99999", { from: 0, to: 9999 }],
    ["bytes=10000-", "unsatisfiable"],
    ["bytes=-0", "unsatisfiable"],
    ["bytes=5-2", null],
    ["bytes=0-1,5-6", null],
    ["lines=1-2", null],
    ["bytes=-", null],
    [undefined, null],
  ])("%s", (header, range) => expect(parseRange(header, 10_000)).toEqual(range));
});
