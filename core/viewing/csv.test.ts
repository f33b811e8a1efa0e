import { expect, it } from "vitest";
import { writeCsv } from "./csv";

// Outside check: RFC 4180, section 2, rules 1, 5, 6 and 7 (from memory).
it("writes CSV as RFC 4180 has it, and no formulas", () => {
  expect(
    writeCsv([
      ["aaa", "b \r\nbb", "ccc"],
      ['a"a', "x,y", 1.5],
      [null, "=1+2", "@who"],
    ]),
  ).toBe('aaa,"b \r\nbb",ccc\r\n"a""a","x,y",1.5\r\n,\'=1+2,\'@who\r\n');
});
