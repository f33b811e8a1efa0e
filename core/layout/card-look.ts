import type { CardStyle } from "./card";
import { COLOUR_OF, OUTLINE } from "./mark";

/** What is drawn behind the words of a card is told in a box of this size, which is stretched to the frame's shape. */
export const CARD_BOX = { width: 160, height: 90 };

export interface CardLook {
  ground: string;
  ink: string;
  /** paths of SVG, from the bottom to the top */
  paths: { d: string; fill?: string; stroke?: string; width?: number }[];
}

const GLASS = "#6FC79D";

/** A roof of panes, as over a bench; an arch to the side; or two lines. */
export const CARD_LOOKS: Record<CardStyle, CardLook> = {
  panes: {
    ground: OUTLINE.outer,
    ink: OUTLINE.inner,
    paths: [
      ...Array.from({ length: 9 }, (_, i) => `M${i * 20} 0L${80 + (i * 20 - 80) * 0.55} 11`),
      "M0 11H160M0 5.5H160",
    ].map((d) => ({ d, stroke: GLASS, width: 0.5 })),
  },
  arch: {
    ground: OUTLINE.inner,
    ink: OUTLINE.outer,
    paths: [
      { d: "M110 90V46a20 20 0 0 1 40 0V90Z", fill: "#2F7D5B" },
      { d: "M117 90V47a13 13 0 0 1 26 0V90Z", fill: "#F5C767" },
    ],
  },
  lines: {
    ground: OUTLINE.inner,
    ink: OUTLINE.outer,
    paths: [{ d: "M14 11H146M14 79H146", stroke: COLOUR_OF.clay, width: 0.8 }],
  },
};
