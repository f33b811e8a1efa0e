import { describe, expect, it } from "vitest";
import { surfaceFacts } from "./surfaces";

describe("what is said of surfaces", () => {
  const soundOf = (platform: string) => surfaceFacts(platform).map(({ surface, sound }) => [surface, sound]);

  it("knows on which systems the whole screen has sound", () => {
    for (const platform of ["Windows", "Chrome OS", "Chromium OS", "ChromeOS"])
      expect(soundOf(platform)[2], platform).toEqual(["monitor", "Has the computer's sound, if you say so."]);
    for (const platform of ["macOS", "Linux", ""])
      expect(soundOf(platform)[2], platform).toEqual(["monitor", expect.stringContaining("no sound")]);
    expect(soundOf("Linux")[0]).toEqual(["browser", "Has its own sound."]);
  });
});
