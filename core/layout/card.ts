import type { Micros } from "../time/micros";
import { SECOND } from "../time/micros";

/** How a card looks: words under a roof of panes, on an arch, or between two lines. */
export const CARD_STYLES = ["panes", "arch", "lines"] as const;
export type CardStyle = (typeof CARD_STYLES)[number];

/** Words that stand in place of the picture, before it begins or after it has ended. They take no time of it. */
export interface Card {
  style: CardStyle;
  title: string;
  name: string;
  date: string;
  /** what to do next, and where; empty for nothing */
  next: string;
  url: string;
  /** how long it stands once somebody has pressed Play; one that closes stays */
  stays: Micros;
}

export const CARD_TEXT_MAX = 120;
export const CARD_STAYS = { least: SECOND, most: 10 * SECOND };
/** An address that a card leads to: of the web, and no other. */
export const isWebAddress = (url: string): boolean => /^https?:\/\/[^\s]+$/.test(url) && URL.canParse(url);
