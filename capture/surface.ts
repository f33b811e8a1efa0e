import type { Surface } from "#core/media/tracks";
import type { openScreen, SharedScreen } from "./devices";

/**
 * What the person shows: chosen by them in the browser's own window, and theirs until they choose another, or it ends.
 * Recording comes later and is another act.
 */
export class ShownSurface {
  #shared: SharedScreen | null = null;

  /** @param onEnded the browser or the person has ended it; not called for `end` */
  constructor(
    private readonly open: typeof openScreen,
    private readonly onEnded: () => void,
  ) {}

  get shared(): SharedScreen | null {
    return this.#shared;
  }

  /** Asks for one. What was shown before stays until another is there. @throws {DeviceProblem} */
  async choose(): Promise<SharedScreen> {
    const shared = await this.open();
    this.end();
    this.#shared = shared;
    shared.screen.addEventListener("ended", () => {
      if (this.#shared !== shared) return;
      this.end();
      this.onEnded();
    });
    return shared;
  }

  end(): void {
    this.#shared?.screen.stop();
    this.#shared?.sound?.stop();
    this.#shared = null;
  }
}

export function surfaceOf(track: MediaStreamTrack): Surface | null {
  const { displaySurface } = track.getSettings();
  return displaySurface === "monitor" || displaySurface === "window" || displaySurface === "browser"
    ? displaySurface
    : null;
}
