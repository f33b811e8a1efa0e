import { cropOf } from "#core/layout/area";
import type { Rect, Size } from "#core/layout/layout";
import { FAST_RATE, surfaceSize, USUAL_QUALITY, type Quality } from "#core/media/quality";
import type { Surface } from "#core/media/tracks";
import type { openScreen, SharedScreen } from "./devices";

/**
 * What the person shows: chosen by them in the browser's own window, and theirs until they choose another, or it ends.
 * Recording comes later and is another act.
 */
export class ShownSurface {
  #shared: SharedScreen | null = null;
  #own: Size | null = null;
  #area: Rect | null = null;
  #quality: Quality = USUAL_QUALITY;

  /** @param onEnded the browser or the person has ended it; not called for `end` */
  constructor(
    private readonly open: typeof openScreen,
    private readonly onEnded: () => void,
  ) {}

  get shared(): SharedScreen | null {
    return this.#shared;
  }

  /** The surface in its own pixels; null where the browser does not tell. */
  get size(): Size | null {
    return this.#own;
  }

  /** What of it is recorded, in shares; null for all of it. */
  get area(): Rect | null {
    return this.#area;
  }

  get quality(): Quality {
    return this.#quality;
  }

  /** The shape of what is recorded, in pixels of the surface; null where that is not known. */
  get frame(): Size | null {
    return this.#own && cropOf(this.#own, this.#area);
  }

  /** Asks for one. What was shown before stays until another is there; all of it is seen. @throws {DeviceProblem} */
  async choose(): Promise<SharedScreen> {
    const shared = await this.open(this.#quality.rate);
    this.end();
    this.#shared = shared;
    const { width, height } = shared.screen.getSettings();
    this.#own = width && height ? { width, height } : null;
    shared.screen.addEventListener("ended", () => {
      if (this.#shared !== shared) return;
      this.end();
      this.onEnded();
    });
    await this.#fit();
    return shared;
  }

  /** Only a part of it, or all of it again. @param area in shares */
  crop(area: Rect | null): Promise<void> {
    this.#area = area;
    return this.#fit();
  }

  /** How finely it is delivered, now and for what is chosen later. */
  tune(quality: Quality): Promise<void> {
    this.#quality = quality;
    return this.#fit();
  }

  end(): void {
    this.#shared?.screen.stop();
    this.#shared?.sound?.stop();
    this.#shared = null;
    this.#own = null;
    this.#area = null;
  }

  /** The browser delivers it at the size that is recorded: nothing is scaled a second time. */
  async #fit(): Promise<void> {
    if (!this.#shared || !this.#own) return;
    const { width, height } = surfaceSize(this.#own, this.#area, this.#quality);
    this.#shared.screen.contentHint = this.#quality.rate < FAST_RATE ? "detail" : "motion";
    const wish = { width: { max: width }, height: { max: height }, frameRate: { max: this.#quality.rate } };
    // What a browser cannot scale comes as it is; the encoder takes any size.
    await this.#shared.screen.applyConstraints(wish).catch(() => undefined);
  }
}

export function surfaceOf(track: MediaStreamTrack): Surface | null {
  const { displaySurface } = track.getSettings();
  return displaySurface === "monitor" || displaySurface === "window" || displaySurface === "browser"
    ? displaySurface
    : null;
}
