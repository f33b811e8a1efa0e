import { describe, expect, it } from "vitest";
import { AA_OTHER, AA_TEXT, brandColors, contrastOf, legible, SCHEMES } from "./colors";
import { SURFACES } from "./surfaces";

/** Outside check: WCAG 2.2, the definitions of relative luminance and of contrast ratio, written out by hand. */
function luminance(color: string): number {
  const [r, g, b] = [1, 3, 5].map((at) => {
    const value = parseInt(color.slice(at, at + 2), 16) / 255;
    return value <= 0.04045 ? value / 12.92 : ((value + 0.055) / 1.055) ** 2.4;
  });
  return 0.2126 * r! + 0.7152 * g! + 0.0722 * b!;
}
function ratio(a: string, b: string): number {
  const [dark, light] = [luminance(a), luminance(b)].sort((x, y) => x - y);
  return (light! + 0.05) / (dark! + 0.05);
}

/** All over what can be chosen: 343 colours, and the corners. */
const CHOSEN = [0, 0x2b, 0x55, 0x80, 0xaa, 0xd5, 0xff].flatMap((r, _, steps) =>
  steps.flatMap((g) => steps.map((b) => `#${[r, g, b].map((n) => n.toString(16).padStart(2, "0")).join("")}`)),
);

describe("colours of a workspace", () => {
  it("are contrasted as WCAG has it", () => {
    expect(contrastOf("#000000", "#ffffff")).toBeCloseTo(21, 10);
    for (const color of CHOSEN) expect(contrastOf(color, "#F7F5EF")).toBeCloseTo(ratio(color, "#F7F5EF"), 2);
  });

  it.each(SCHEMES)("can be read in the %s scheme, whichever is chosen", (scheme) => {
    const { papers, onAccent, onBar, focus } = SURFACES[scheme];
    for (const color of CHOSEN) {
      const { accent, bar } = brandColors({ accent: color, bar: color }, scheme);
      for (const shown of [accent!.main, accent!.pressed])
        for (const beside of [...papers, onAccent]) expect(ratio(shown, beside)).toBeGreaterThanOrEqual(AA_TEXT);
      expect(ratio(bar!.main, onBar)).toBeGreaterThanOrEqual(AA_TEXT);
      expect(ratio(bar!.main, focus)).toBeGreaterThanOrEqual(AA_OTHER);
    }
  });

  it("stay as they are where they can be read", () => {
    expect(brandColors({ accent: "#1b4f8a", bar: "#16302b" }, "light")).toEqual({
      accent: { main: "#1b4f8a", pressed: expect.stringMatching(/^#[\da-f]{6}$/) as string, text: "#FFFFFF" },
      bar: { main: "#16302b", text: "#F7F5EF" },
    });
    expect(brandColors({ accent: null, bar: null }, "dark")).toEqual({ accent: null, bar: null });
  });

  it("keep their hue", () => {
    // A yellow becomes a darker yellow on paper, and is no red, green or grey.
    const shown = brandColors({ accent: "#ffd500", bar: null }, "light").accent!.main;
    const [r, g, b] = [1, 3, 5].map((at) => parseInt(shown.slice(at, at + 2), 16));
    expect(b!).toBeLessThan(g! / 2);
    expect(Math.abs(r! - g!)).toBeLessThan(60);
  });

  it("are none where nothing can be seen beside both", () => {
    const both = ["#000000", "#ffffff"].map((color) => ({ color, contrast: 7 }));
    expect(() => legible("#808080", both)).toThrow(RangeError);
  });
});
