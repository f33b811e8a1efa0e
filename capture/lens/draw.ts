import type { Rect, Size } from "#core/layout/layout";

/** How much smaller a picture is drawn to be blurred. */
const SMALLER = 16;
/** Of the small picture, in its pixels: nothing that could be read is left. */
const SOFT = "blur(1.5px)";

/** Draws what a lens cannot show by another view of the same pixels. One canvas, used over and over. */
export class LensCanvas {
  #all = new OffscreenCanvas(2, 2);
  #small = new OffscreenCanvas(2, 2);

  /**
   * @param crop the pixels that are seen
   * @param mask the alpha of the whole picture where the person is; null to blur all of it, undefined to blur nothing
   */
  draw(frame: VideoFrame, crop: Rect, flips: boolean, mask: ImageBitmap | null | undefined): VideoFrame {
    const { width, height } = crop;
    if (this.#all.width !== width || this.#all.height !== height) this.#resize({ width, height });
    const context = this.#all.getContext("2d")!;
    context.setTransform(flips ? -1 : 1, 0, 0, 1, flips ? width : 0, 0);
    // A finer way takes three times as long, and is seen by nobody.
    context.imageSmoothingQuality = "low";
    context.globalCompositeOperation = "copy";
    if (mask) {
      // The person: the mask, then the picture where it is, then what is behind.
      const [x, y] = [mask.width / frame.displayWidth, mask.height / frame.displayHeight];
      context.drawImage(mask, crop.x * x, crop.y * y, width * x, height * y, 0, 0, width, height);
      context.globalCompositeOperation = "source-in";
    }
    if (mask !== null) context.drawImage(frame, crop.x, crop.y, width, height, 0, 0, width, height);
    if (mask !== undefined) {
      if (mask) context.globalCompositeOperation = "destination-over";
      context.drawImage(this.#blurred(frame, crop), 0, 0, width, height);
    }
    const { timestamp, duration } = frame;
    return new VideoFrame(this.#all, { timestamp, duration: duration ?? undefined, alpha: "discard" });
  }

  #resize({ width, height }: Size): void {
    Object.assign(this.#all, { width, height });
    Object.assign(this.#small, { width: Math.ceil(width / SMALLER), height: Math.ceil(height / SMALLER) });
  }

  #blurred(frame: VideoFrame, { x, y, width, height }: Rect): OffscreenCanvas {
    const context = this.#small.getContext("2d", { alpha: false })!;
    context.filter = SOFT;
    context.drawImage(frame, x, y, width, height, 0, 0, this.#small.width, this.#small.height);
    return this.#small;
  }
}
