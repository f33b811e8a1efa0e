import { describe, expect, it } from "vitest";
import { tidyName } from "./names";

describe("a name as it is kept", () => {
  it.each([
    ["  Ida   Marsh ", "Ida Marsh"],
    ["Ida\u0000Marsh", "Ida Marsh"],
    ["Ida\n\tMarsh", "Ida Marsh"],
    ["Wren\u202eHolt", "WrenHolt"],
    ["Zo\u0065\u0308", "Zoë"],
    // The joiner belongs to the word in Persian, and to a family of emoji.
    ["\u0645\u06cc\u200c\u062e\u0648\u0627\u0647\u0645", "\u0645\u06cc\u200c\u062e\u0648\u0627\u0647\u0645"],
  ])("%j is %j", (given, kept) => expect(tidyName(given)).toBe(kept));

  it.each(["\u200b\u200d", "\u3164\u3164", "\u2800", "\u00ad", "\u0000", " \u2003 ", "\u2060\ufeff", ""])(
    "%j is nothing",
    (given) => expect(tidyName(given)).toBe(""),
  );
});
