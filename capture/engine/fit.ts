import type { Rect } from "#core/layout/layout";

export interface Size {
  width: number;
  height: number;
}

/** H.264 wants even sides: at most one row and one column of pixels are left out. */
export const evenSize = ({ width, height }: Size): Size => ({
  width: Math.max(2, width & ~1),
  height: Math.max(2, height & ~1),
});

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

/**
 * Makes the frames of a source fit the size that its track began with. A frame that has it goes on as it is; one of
 * the same shape too, because the encoder scales it (WebCodecs, `VideoEncoderConfig.width`). Only a frame of another
 * shape, as when a window is resized, is drawn anew, on one canvas that is used over and over.
 */
export class Fitter {
  #canvas: OffscreenCanvas | null = null;

  constructor(readonly size: Size) {}

  /** @returns a new frame at `timestamp` and `duration` (µs); the given one stays open and the caller's */
  fit(frame: VideoFrame, times: { timestamp: number; duration: number }): VideoFrame {
    const { visibleRect } = frame;
    const has = { width: visibleRect?.width ?? frame.codedWidth, height: visibleRect?.height ?? frame.codedHeight };
    if (isAlike(has, this.size)) {
      const even = evenSize(has);
      if (even.width === has.width && even.height === has.height) return new VideoFrame(frame, times);
      return new VideoFrame(frame, {
        ...times,
        visibleRect: { x: visibleRect?.x ?? 0, y: visibleRect?.y ?? 0, ...even },
      });
    }
    const canvas = (this.#canvas ??= new OffscreenCanvas(this.size.width, this.size.height));
    const context = canvas.getContext("2d", { alpha: false })!;
    const { x, y, width, height } = within({ width: frame.displayWidth, height: frame.displayHeight }, this.size);
    context.fillRect(0, 0, canvas.width, canvas.height);
    context.drawImage(frame, x, y, width, height);
    return new VideoFrame(canvas, times);
  }
}
