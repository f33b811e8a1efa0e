import type { FaceFigures } from "#core/check/face";

/** Worker → page. Null where no face can be looked for. */
export type FaceReport = FaceFigures | null;

/** Large enough for a face at a desk. */
const WIDTH = 256;
const EVERY_MS = 2_000;

/**
 * Looks for a face in a camera's picture every two seconds, in a worker. What it needs is large: it is asked for only
 * where somebody wants to know. Nothing of it is looked at while recording.
 */
export class FaceCheck {
  #worker = new Worker(new URL("./face.worker.ts", import.meta.url), { type: "module" });
  #timer: ReturnType<typeof setInterval>;
  #looking = false;

  /** @param video that plays the picture */
  constructor(
    private readonly video: HTMLVideoElement,
    onReport: (report: FaceReport) => void,
  ) {
    this.#worker.onmessage = ({ data }: MessageEvent<FaceReport>) => {
      this.#looking = false;
      onReport(data);
    };
    this.#worker.onerror = () => onReport(null);
    this.#timer = setInterval(() => void this.#look(), EVERY_MS);
  }

  close(): void {
    clearInterval(this.#timer);
    this.#worker.terminate();
  }

  async #look(): Promise<void> {
    if (this.#looking || this.video.readyState < HTMLMediaElement.HAVE_CURRENT_DATA) return;
    this.#looking = true;
    try {
      const picture = await createImageBitmap(this.video, { resizeWidth: WIDTH, resizeQuality: "low" });
      this.#worker.postMessage(picture, [picture]);
    } catch {
      // It ended at this moment: there is no picture of it.
      this.#looking = false;
    }
  }
}
