import type { Recorder } from "#capture/recorder";
import { Watchable } from "#core/state/watchable";

interface TabState {
  /** the one recorder of this tab; null until somebody has come to record */
  recorder: Recorder | null;
  /** its states are told by sounds as well */
  cues: boolean;
  /** the small window above all others that has the controls; null while there is none */
  floating: Window | null;
  /** the cameras that can be recorded, while a page has them; null where there is nothing to choose */
  cameras: CameraChoice | null;
}

/** At most four: more are chosen by their names. */
export const MOST_CAMERAS = 4;
export interface CameraChoice {
  list: { id: string; name: string }[];
  chosen: string | null;
  choose: (id: string) => void;
}

/** The one after the one that is chosen, and from the last the first. */
export function nextCamera({ list, chosen, choose }: CameraChoice): void {
  const next = list[(list.findIndex(({ id }) => id === chosen) + 1) % list.length];
  if (next) choose(next.id);
}

/** What the pages of a tab share of the recorder. It is known on all of them, and loaded where it is used. */
class Tab extends Watchable<TabState> {
  constructor() {
    super({ recorder: null, cues: true, floating: null, cameras: null });
  }

  tell(change: Partial<TabState>): void {
    this.set(change);
  }
}

export const tab = new Tab();
