import { cropOf } from "#core/layout/area";
import type { Rect, Size } from "#core/layout/layout";

/** Shapes closer than this are taken as alike: the encoder scales, and nobody sees the difference. */
const ALIKE = 0.01;

/** Are two sizes of one shape, as far as an eye would say? */
export const isAlike = (a: Size, b: Size): boolean => Math.abs((a.width * b.height) / (a.height * b.width) - 1) < ALIKE;

/** Where a picture lies in a frame of another shape: whole, as large as it can be, about the middle; whole pixels. */
export function within(picture: Size, frame: Size): Rect {
  const scale = Math.min(frame.width / picture.width, frame.height / picture.height);
  const width = Math.round(picture.width * scale);
  const height = Math.round(picture.height * scale);
  return {
    x: Math.round((frame.width - width) / 2),
    y: Math.round((frame.height - height) / 2),
    width,
    height,
  };
}

/** The pixels of a frame that are a picture. */
export const seenOf = ({ visibleRect, codedWidth, codedHeight }: VideoFrame): Rect =>
  visibleRect ?? { x: 0, y: 0, width: codedWidth, height: codedHeight };

/**
 * Makes the frames of a source fit the size that its track began with, all of them or an area of theirs. A frame that
 * has it goes on as it is; one of the same shape too, because the encoder scales it (WebCodecs,
 * `VideoEncoderConfig.width`). An area is another view of the same pixels. Only what has another shape, as when a
 * window is resized, is drawn anew, on one canvas that is used over and over.
 */
export class Fitter {
  #canvas: OffscreenCanvas | null = null;

  constructor(readonly size: Size) {}

  /**
   * @param area in shares of the frame; null for all of it
   * @returns a new frame at `timestamp` and `duration` (µs); the given one stays open and the caller's
   */
  fit(frame: VideoFrame, area: Rect | null, times: { timestamp: number; duration: number }): VideoFrame {
    const seen = seenOf(frame);
    const crop = cropOf(seen, area);
    const isAll = crop.width === seen.width && crop.height === seen.height;
    const visibleRect = { ...crop, x: seen.x + crop.x, y: seen.y + crop.y };
    const part = new VideoFrame(frame, isAll ? times : { ...times, visibleRect });
    return isAlike(crop, this.size) ? part : this.#drawn(part, times);
  }

  #drawn(frame: VideoFrame, times: { timestamp: number; duration: number }): VideoFrame {
    const canvas = (this.#canvas ??= new OffscreenCanvas(this.size.width, this.size.height));
    const context = canvas.getContext("2d", { alpha: false })!;
    const { x, y, width, height } = within({ width: frame.displayWidth, height: frame.displayHeight }, this.size);
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.drawImage(frame, x, y, width, height);
    frame.close();
    return new VideoFrame(canvas, times);
  }
}
