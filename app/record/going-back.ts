import { useEffect, useSyncExternalStore } from "react";
import type { Recorder } from "#capture/recorder";
import type { Phase } from "#capture/recorder-state";
import { Watchable } from "#core/state/watchable";

/** Whether the place to go on from is being looked for: one state for the page and the floating window. */
class GoingBack extends Watchable<{ open: boolean }> {
  constructor() {
    super({ open: false });
  }

  tell(open: boolean): void {
    this.set({ open });
  }
}

const goingBack = new GoingBack();

/** Stands still, and looks for the place to go on from. */
export function goBack(recorder: Recorder): void {
  recorder.pause();
  goingBack.tell(true);
}

/** It stays paused, as it is. */
export const leaveBack = () => goingBack.tell(false);

/** Is the place being looked for? That ends where the take goes on, or ends. */
export function useGoingBack(phase: Phase): boolean {
  const { open } = useSyncExternalStore(goingBack.subscribe, goingBack.snapshot, goingBack.snapshot);
  useEffect(() => {
    if (phase !== "paused") leaveBack();
  }, [phase]);
  return open && phase === "paused";
}
