import { describe, expect, it } from "vitest";
import { DESCRIPTION_MAX, MOST_TAGS, tidyDescription, tidyTags } from "./about";

describe("what a recording is about", () => {
  it("keeps the lines of a description, and nothing that is not seen", () => {
    expect(tidyDescription("  North slope\r\n\r\n\r\n\r\nPanes\u0000 \u202eand putty\t ")).toBe(
      "North slope\n\nPanes and putty",
    );
    expect(tidyDescription("x".repeat(9_000))).toHaveLength(DESCRIPTION_MAX);
  });

  it("keeps each tag once, in its order", () => {
    expect(tidyTags(["Roof", " #putty ", "roof", "", "\u200b", "ROOF", "iron work"])).toEqual([
      "Roof",
      "putty",
      "iron work",
    ]);
    expect(tidyTags(Array.from({ length: 50 }, (_, i) => `tag ${i}`))).toHaveLength(MOST_TAGS);
    expect(tidyTags(["y".repeat(500)])[0]).toHaveLength(40);
  });
});
