/** The height of the bar above every page. */
const BAR = 56;

/**
 * How a page stands whose work is at a picture: areas `head`, `player` and `side`. On a wide screen it is on the screen
 * at once, whatever is asked and said; the picture takes what is left. On a narrow one the picture comes first and what
 * belongs to it follows.
 * @param side pixels
 * @param gap between them, and above and below, in steps of the theme
 */
export const workOnScreen = ({ side, gap }: { side: number; gap: number }) =>
  ({
    display: { xs: "flex", md: "grid" },
    flexDirection: "column",
    gap: { xs: 1.5, md: gap },
    columnGap: { md: 2.5 },
    gridTemplateColumns: { md: `minmax(0,1fr) ${side}px` },
    gridTemplateRows: { md: "auto minmax(0,1fr)" },
    gridTemplateAreas: { md: '"head head" "player side"' },
    height: { md: `calc(100dvh - ${BAR}px)` },
    minHeight: { md: 600 },
    maxWidth: 1440,
    mx: "auto",
    px: { xs: 0, sm: 3 },
    py: { xs: 1.25, sm: gap },
  }) as const;
