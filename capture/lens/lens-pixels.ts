import type { Rect } from "#core/layout/layout";
import { blurBehind, mirror, type Alpha, type Plane } from "#core/picture/planes";

/** Parts of a sample in each plane, and how much smaller the planes behind the first are. */
const FORMATS: Partial<Record<VideoPixelFormat, { parts: number[]; smaller: number }>> = {
  I420: { parts: [1, 1, 1], smaller: 2 },
  NV12: { parts: [1, 2], smaller: 2 },
  RGBX: { parts: [4], smaller: 1 },
};

/**
 * Makes what a lens cannot show by another view of the same pixels, in one piece of memory that is used over and over.
 * On a canvas each picture is another bitmap that stays until garbage is collected: half a gigabyte.
 */
export class LensPixels {
  #memory = new Uint8Array(0);

  /**
   * @param crop the pixels that are seen
   * @param alpha where the person is in the whole picture; null to blur all of it, undefined to blur nothing
   * @throws {TypeError} where the frame was closed meanwhile
   */
  async through(frame: VideoFrame, crop: Rect, flips: boolean, alpha: Alpha | null | undefined): Promise<VideoFrame> {
    const { displayWidth, displayHeight, timestamp, duration, colorSpace } = frame;
    const visible = frame.visibleRect ?? { x: 0, y: 0, width: displayWidth, height: displayHeight };
    // Other formats, and frames that a graphics card holds, are read as colours.
    const format = frame.format && FORMATS[frame.format] ? frame.format : "RGBX";
    const rect = { ...crop, x: visible.x + crop.x, y: visible.y + crop.y };
    const wanted = { rect, ...(format === "RGBX" && { format }) };
    const size = frame.allocationSize(wanted);
    if (this.#memory.length !== size) this.#memory = new Uint8Array(size);
    const layout = await frame.copyTo(this.#memory, wanted);
    const seen = {
      x: crop.x / displayWidth,
      y: crop.y / displayHeight,
      width: crop.width / displayWidth,
      height: crop.height / displayHeight,
    };
    const { parts, smaller } = FORMATS[format]!;
    for (const [n, { offset, stride }] of layout.entries()) {
      const by = n === 0 ? 1 : smaller;
      const plane: Plane = {
        data: this.#memory.subarray(offset),
        width: Math.ceil(crop.width / by),
        height: Math.ceil(crop.height / by),
        stride,
        parts: parts[n]!,
      };
      if (alpha !== undefined) blurBehind(plane, alpha, seen);
      if (flips) mirror(plane);
    }
    return new VideoFrame(this.#memory, {
      format,
      layout,
      codedWidth: crop.width,
      codedHeight: crop.height,
      timestamp,
      duration: duration ?? undefined,
      colorSpace: colorSpace.toJSON(),
    });
  }
}
