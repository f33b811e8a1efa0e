import type { Recorder } from "#capture/recorder";
import { Watchable } from "#core/state/watchable";

interface TabState {
  /** the one recorder of this tab; null until somebody has come to record */
  recorder: Recorder | null;
  /** its states are told by sounds as well */
  cues: boolean;
  /** the small window above all others that has the controls; null while there is none */
  floating: Window | null;
}

/** What the pages of a tab share of the recorder. It is known on all of them, and loaded where it is used. */
class Tab extends Watchable<TabState> {
  constructor() {
    super({ recorder: null, cues: true, floating: null });
  }

  tell(change: Partial<TabState>): void {
    this.set(change);
  }
}

export const tab = new Tab();
