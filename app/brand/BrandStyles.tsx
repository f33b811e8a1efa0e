import GlobalStyles from "@mui/material/GlobalStyles";
import type { BrandColors } from "#core/brand/colors";
import type { Brand } from "#server/workspaces/brands";

/** What the bar at the top is painted with. */
export const BAR = {
  backgroundColor: "var(--brand-bar, var(--mui-palette-bar-main))",
  color: "var(--brand-bar-text, var(--mui-palette-bar-contrastText))",
};

/** The page has a workspace's colours, in either scheme; where it has chosen none, ours. */
export function BrandStyles({ brand }: { brand: Brand | null }) {
  if (!brand) return null;
  const { light, dark } = brand.colors;
  return (
    <GlobalStyles
      styles={{
        "html:root": variables(light),
        "@media (prefers-color-scheme: dark)": { "html:root": variables(dark) },
      }}
    />
  );
}

/** What the theme calls them. */
function variables({ accent, bar }: BrandColors): Record<string, string> {
  return {
    ...(accent && {
      "--mui-palette-primary-main": accent.main,
      "--mui-palette-primary-dark": accent.pressed,
      "--mui-palette-primary-contrastText": accent.text,
      "--mui-palette-primary-mainChannel": channels(accent.main),
    }),
    // Grounds of pictures have the colour of our bar, and stay as they are.
    ...(bar && { "--brand-bar": bar.main, "--brand-bar-text": bar.text }),
  };
}

/** `#2f7d5b` as `47 125 91`, for colours that let something through. */
const channels = (color: string) => [1, 3, 5].map((at) => parseInt(color.slice(at, at + 2), 16)).join(" ");
