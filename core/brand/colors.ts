import {
  clampChroma,
  formatHex,
  modeLrgb,
  modeOklch,
  modeRgb,
  useMode as withMode,
  wcagContrast,
  type Oklch,
} from "culori/fn";
import { SURFACES } from "./surfaces";

withMode(modeRgb);
withMode(modeLrgb);
const oklch = withMode(modeOklch);

/** What words need beside what they stand on, and what is no word; WCAG 2.2, 1.4.3 and 1.4.11. */
export const AA_TEXT = 4.5;
export const AA_OTHER = 3;

/** What a workspace has chosen, as `#rrggbb`; null for ours. */
export interface BrandChoice {
  /** of buttons, links and what has been played */
  accent: string | null;
  /** of the bar at the top */
  bar: string | null;
}

/** The same as it is shown in one scheme. */
export interface BrandColors {
  accent: { main: string; pressed: string; text: string } | null;
  bar: { main: string; text: string } | null;
}

export type Scheme = keyof typeof SURFACES;
export const SCHEMES = Object.keys(SURFACES) as Scheme[];

/** A colour beside which another is seen, and by how much. */
interface Beside {
  color: string;
  contrast: number;
}

const STEP = 0.005;
/** As dark as a bar is at least where everything is dark. */
const DARK_BAR = 0.32;

/** The contrast of two colours (WCAG 2.2, relative luminance): 1 to 21. */
export const contrastOf = (a: string, b: string): number => wcagContrast(a, b);

/**
 * The colour of this hue that is nearest in lightness and can be seen beside all of these; it grows paler where its
 * lightness has no such colour.
 * @throws {RangeError} where there is none, because one of them is light and another dark
 */
export function legible(color: string, beside: readonly Beside[]): string {
  const chosen = oklch(color)!;
  for (let away = 0; away <= 1; away += STEP)
    for (const l of [chosen.l - away, chosen.l + away]) {
      const tried = hex({ ...chosen, l: Math.min(1, Math.max(0, l)) });
      if (beside.every((other) => contrastOf(tried, other.color) >= other.contrast)) return tried;
    }
  throw new RangeError("No colour of this hue can be seen beside all of these.");
}

/** A workspace's colours in a scheme, moved as far as they have to be so that everything can be read. */
export function brandColors({ accent, bar }: BrandChoice, scheme: Scheme): BrandColors {
  const { papers, onAccent, onBar, focus } = SURFACES[scheme];
  const words = [...papers, onAccent].map((color) => ({ color, contrast: AA_TEXT }));
  const under = [
    { color: onBar, contrast: AA_TEXT },
    { color: focus, contrast: AA_OTHER },
  ];
  return {
    accent: accent ? accentOf(accent, words, { text: onAccent, pressed: scheme === "light" ? -0.08 : 0.06 }) : null,
    bar: bar ? { main: legible(scheme === "light" ? bar : deepened(bar), under), text: onBar } : null,
  };
}

function accentOf(color: string, words: readonly Beside[], { text, pressed }: { text: string; pressed: number }) {
  const main = legible(color, words);
  const shown = oklch(main)!;
  return { main, pressed: legible(hex({ ...shown, l: shown.l + pressed }), words), text };
}

const deepened = (color: string) => {
  const chosen = oklch(color)!;
  return hex({ ...chosen, l: Math.min(chosen.l, DARK_BAR) });
};

/** What a screen can show of it. */
const hex = (color: Oklch): string => formatHex(clampChroma(color, "oklch", "rgb"));
