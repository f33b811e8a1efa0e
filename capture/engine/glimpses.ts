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
  #canvas: OffscreenCanvas | null = null;
  #kept: Glimpse[] = [];
  #next: Micros = 0;
  #busy = false;

  /** @param most how many are kept */
  constructor(private readonly most: number) {}

  /** Looks at a frame, if it is time. The frame stays its owner's. */
  look(frame: VideoFrame, at: Micros): void {
    if (at < this.#next || this.#busy) return;
    this.#next = at + EVERY;
    const height = Math.max(2, Math.round((WIDTH * frame.displayHeight) / frame.displayWidth));
    if (this.#canvas?.height !== height) this.#canvas = new OffscreenCanvas(WIDTH, height);
    const context = this.#canvas.getContext("2d", { alpha: false });
    if (!context) return;
    context.drawImage(frame, 0, 0, WIDTH, height);
    this.#busy = true;
    void this.#canvas
      .convertToBlob({ type: "image/jpeg", quality: 0.6 })
      .then((picture) => {
        this.#kept.push({ at, picture });
        if (this.#kept.length > this.most) this.#kept.shift();
      })
      // One that could not be made is not seen; the recording does not depend on it.
      .catch(() => undefined)
      .finally(() => (this.#busy = false));
  }

  get all(): readonly Glimpse[] {
    return this.#kept;
  }
}
