import { FaceFinder, type FaceReport } from "./face-finder";

/** Large enough for a face at a desk. */
const WIDTH = 256;
const EVERY_MS = 2_000;

/**
 * Looks for a face in a camera's picture every two seconds. It is asked for only where somebody wants to know; nothing
 * of it is looked at while recording.
 */
export class FaceCheck {
  #finder = new FaceFinder();
  #timer: ReturnType<typeof setInterval>;
  #looking = false;
  #closed = false;

  /** @param video that plays the picture */
  constructor(
    private readonly video: HTMLVideoElement,
    private readonly onReport: (report: FaceReport) => void,
  ) {
    this.#timer = setInterval(() => void this.#look(), EVERY_MS);
  }

  close(): void {
    this.#closed = true;
    clearInterval(this.#timer);
    this.#finder.close();
  }

  async #look(): Promise<void> {
    if (this.#looking || this.video.readyState < HTMLMediaElement.HAVE_CURRENT_DATA) return;
    this.#looking = true;
    try {
      const picture = await createImageBitmap(this.video, { resizeWidth: WIDTH, resizeQuality: "low" });
      const report = await this.#finder.look(picture);
      if (!this.#closed) this.onReport(report);
    } catch {
      // It ended at this moment: there is no picture of it.
    } finally {
      this.#looking = false;
    }
  }
}
