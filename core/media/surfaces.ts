import type { Surface } from "./tracks";

/** What a person should know of a kind of surface before they choose one. */
export interface SurfaceFacts {
  surface: Surface;
  name: string;
  shows: string;
  hides: string;
  sound: string;
}

/**
 * What each kind of surface shows, hides and sounds like on a system. Common practice of today's browsers, no published
 * source; whether its sound really came is seen when it was chosen.
 *
 * @param platform as `navigator.userAgentData.platform` tells it ("Windows", "macOS", "Linux", "Chrome OS"), or ""
 */
export function surfaceFacts(platform: string): SurfaceFacts[] {
  return [
    {
      surface: "browser",
      name: "A tab",
      shows: "One page, also while you look elsewhere. The sharpest, and the lightest for this computer.",
      hides: "Leaves out the browser's menus, other tabs and your notes.",
      sound: "Has its own sound.",
    },
    {
      surface: "window",
      name: "A window",
      shows: "One program, also when another lies over it.",
      hides: "Leaves out other windows, and often its own menus and pop-ups.",
      sound: "Usually has no sound.",
    },
    {
      surface: "monitor",
      name: "The whole screen",
      shows: "Everything on it: other windows, alerts and your own notes as well.",
      hides: "Leaves out nothing.",
      sound: /^(Windows|Chrom\w* ?OS)$/i.test(platform)
        ? "Has the computer's sound, if you say so."
        : "On this system it usually has no sound.",
    },
  ];
}
