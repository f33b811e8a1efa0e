import { SmallPicture } from "../small-picture";
import { SECOND, type Micros } from "#core/time/micros";

/** What was seen at a moment, in small. */
export interface Glimpse {
  at: Micros;
  picture: Blob;
}

const EVERY: Micros = SECOND;
/** A strip of pictures is looked at in small. */
const WIDTH = 320;

/** Small pictures of what was recorded last, one a second: to see where one was. What is longer ago is forgotten. */
export class Glimpses {
  #small = new SmallPicture();
  #canvas = new OffscreenCanvas(1, 1);
  #kept: Glimpse[] = [];
  #next: Micros = 0;
  #busy = false;

  /** @param most how many are kept */
  constructor(private readonly most: number) {}

  /** Looks at a frame, if it is time. The frame stays its owner's. */
  look(frame: VideoFrame, at: Micros): void {
    if (at < this.#next || this.#busy) return;
    this.#next = at + EVERY;
    this.#busy = true;
    void this.#picture(frame)
      .then((picture) => {
        this.#kept.push({ at, picture });
        if (this.#kept.length > this.most) this.#kept.shift();
      })
      // One that could not be made is not seen; the recording does not depend on it.
      .catch(() => undefined)
      .finally(() => (this.#busy = false));
  }

  async #picture(frame: VideoFrame): Promise<Blob> {
    const height = Math.max(2, Math.round((WIDTH * frame.displayHeight) / frame.displayWidth));
    const small = await this.#small.of(frame, WIDTH, height);
    if (this.#canvas.height !== height) Object.assign(this.#canvas, { width: WIDTH, height });
    this.#canvas.getContext("2d", { alpha: false })!.putImageData(small, 0, 0);
    return this.#canvas.convertToBlob({ type: "image/jpeg", quality: 0.6 });
  }

  get all(): readonly Glimpse[] {
    return this.#kept;
  }
}
