import { useSyncExternalStore } from "react";
import type { Recorder } from "#capture/recorder";
import { MARK_COLOURS, TOOLS, type MarkColour, type Tool } from "#core/layout/mark";
import { Watchable } from "#core/state/watchable";
import { kept } from "../kept";

/** Seconds for which a mark stays, as a choice of words. */
const STAYS = ["cleared", "3", "5", "10"] as const;
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
    // On the server nothing is kept, and nothing of it is drawn there.
    const of = (kept.read(NAME) ?? {}) as Partial<Record<keyof PenState, unknown>>;
    super({
      drawing: false,
      tool: TOOLS.find((t) => t === of.tool) ?? "pen",
      colour: MARK_COLOURS.find((c) => c === of.colour) ?? "clay",
      stays: STAYS.find((s) => s === of.stays) ?? "cleared",
    });
  }

  change(part: Partial<PenState>): void {
    this.set(part);
    const { tool, colour, stays } = this.snapshot();
    kept.write(NAME, { tool, colour, stays });
  }
}

export const pen = new Pen();

/** Is there anything drawn, or about to be? Then what it is drawn on is seen the right way round. */
export function useDraws(recorder: Recorder): boolean {
  const { marks } = useSyncExternalStore(
    recorder.entries.subscribe,
    recorder.entries.snapshot,
    recorder.entries.snapshot,
  );
  return usePen().drawing || marks.length > 0;
}

export function usePen(): PenState {
  return useSyncExternalStore(pen.subscribe, pen.snapshot, pen.snapshot);
}
