import { useSyncExternalStore } from "react";

const NAMES = {
  leaf: "--mui-palette-primary-main",
  marigold: "--mui-palette-marigold-main",
  ink: "--mui-palette-text-primary",
  soft: "--mui-palette-text-secondary",
  mist: "--mui-palette-mist",
  pane: "--mui-palette-background-paper",
} as const;
export type ChartColors = Record<keyof typeof NAMES | "font", string>;

const dark = () => matchMedia("(prefers-color-scheme: dark)");
const subscribe = (listener: () => void) => {
  const query = dark();
  query.addEventListener("change", listener);
  // A canvas is drawn with what is there; our letters may come a moment later.
  document.fonts.addEventListener("loadingdone", listener);
  return () => {
    document.fonts.removeEventListener("loadingdone", listener);
    query.removeEventListener("change", listener);
  };
};

/** The scheme, and whether our letters are there: another value when either changes. */
const look = () => `${dark().matches ? "dark" : "light"} ${document.fonts.check(OURS)}`;
const OURS = '16px "Atkinson Hyperlegible Next"';

/** The theme's colours and font as a canvas wants them; null while the page is as the server sent it. */
export function useChartColors(): ChartColors | null {
  const scheme = useSyncExternalStore(subscribe, look, () => null);
  if (!scheme) return null;
  const style = getComputedStyle(document.documentElement);
  const colors = Object.fromEntries(
    Object.entries(NAMES).map(([name, variable]) => [name, style.getPropertyValue(variable).trim()]),
  );
  return { ...colors, font: getComputedStyle(document.body).fontFamily } as ChartColors;
}
