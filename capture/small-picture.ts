import { shrink } from "#core/picture/shrink";

/**
 * Small pictures of frames, in memory that is used over and over. Drawn on a canvas, each frame would leave a bitmap of
 * its own size until garbage is collected, which a worker does seldom: 200 MB a minute at one a second.
 */
export class SmallPicture {
  #colours = new Uint8Array(0);
  #small = new ImageData(1, 1);

  /**
   * What a frame shows, in small. The frame stays its owner's, who may close it at once.
   * @returns the same picture each time
   * @throws {TypeError} where the frame is closed
   */
  async of(frame: VideoFrame, width: number, height: number): Promise<ImageData> {
    const copy = frame.clone();
    try {
      const wanted = { format: "RGBX" as const };
      const size = copy.allocationSize(wanted);
      if (this.#colours.length !== size) this.#colours = new Uint8Array(size);
      const [plane] = await copy.copyTo(this.#colours, wanted);
      const { width: wide = copy.codedWidth, height: high = copy.codedHeight } = copy.visibleRect ?? {};
      if (this.#small.width !== width || this.#small.height !== height) this.#small = new ImageData(width, height);
      const { offset, stride } = plane!;
      shrink({ data: this.#colours.subarray(offset), width: wide, height: high, stride }, this.#small);
      return this.#small;
    } finally {
      copy.close();
    }
  }
}
