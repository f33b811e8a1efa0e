import { useEffect, useSyncExternalStore } from "react";
import { MARK_COLOURS, TOOLS, type MarkColour, type Tool } from "#core/layout/mark";
import { Watchable } from "#core/state/watchable";
import { kept } from "../kept";

/** Seconds for which a mark stays, as a choice of words. */
export const STAYS = ["cleared", "3", "5", "10"] as const;
export type Stays = (typeof STAYS)[number];

interface PenState {
  /** presses on the picture draw */
  drawing: boolean;
  tool: Tool;
  colour: MarkColour;
  stays: Stays;
}

const NAME = "clear-nod-pen";

/** What is drawn with: one for the page and the floating window, remembered on this computer. */
class Pen extends Watchable<PenState> {
  constructor() {
    super({ drawing: false, tool: "pen", colour: "clay", stays: "cleared" });
  }

  /** Takes up what was remembered; only in a browser. */
  remember(): void {
    const of = (kept.read(NAME) ?? {}) as Partial<Record<keyof PenState, unknown>>;
    const { tool, colour, stays } = this.snapshot();
    this.set({
      tool: TOOLS.find((t) => t === of.tool) ?? tool,
      colour: MARK_COLOURS.find((c) => c === of.colour) ?? colour,
      stays: STAYS.find((s) => s === of.stays) ?? stays,
    });
  }

  change(part: Partial<PenState>): void {
    this.set(part);
    const { tool, colour, stays } = this.snapshot();
    kept.write(NAME, { tool, colour, stays });
  }
}

export const pen = new Pen();

export function usePen(): PenState {
  useEffect(() => pen.remember(), []);
  return useSyncExternalStore(pen.subscribe, pen.snapshot, pen.snapshot);
}
