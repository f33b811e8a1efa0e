import { describe, expect, it } from "vitest";
import { proposeTitle, tidyTitle } from "./title";

describe("titles", () => {
  it("proposes one that tells recordings apart", () => {
    expect(proposeTitle("screen-camera", { weekday: 2, day: 24, month: 10, hour: 9, minute: 5 })).toBe(
      "Screen and camera, Tuesday 24 November, 9:05",
    );
    expect(proposeTitle("voice", { weekday: 0, day: 1, month: 0, hour: 23, minute: 59 })).toBe(
      "Voice, Sunday 1 January, 23:59",
    );
  });

  it("keeps one clean line", () => {
    expect(tidyTitle("  Ridge\n\tpanes \u202e end\u0000 ")).toBe("Ridge panes end");
    expect(tidyTitle(" \u200b\n ")).toBe("");
  });
});
