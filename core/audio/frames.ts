/** Works on one frame of samples in place. */
export type FrameWork = (frame: Float32Array<ArrayBuffer>) => void;

/**
 * Sound of any block size through work that takes frames of one size and gives each back later by a known delay: as
 * many samples come out as went in, each at the place where it was.
 */
export class FramedSound {
  #waiting: Float32Array<ArrayBuffer>;
  #filled = 0;
  /** samples to leave out before the first one: those of the work's own delay */
  #ahead: number;
  #in = 0;
  #out = 0;

  /**
   * @param size samples of a frame
   * @param delay samples by which the work gives its sound back late
   */
  constructor(
    private readonly work: FrameWork,
    private readonly size: number,
    private readonly delay: number,
  ) {
    this.#waiting = new Float32Array(size);
    this.#ahead = delay;
  }

  /** @returns what is ready of all that was put in; the rest comes later */
  push(samples: Float32Array): Float32Array<ArrayBuffer> {
    this.#in += samples.length;
    return this.#through(samples);
  }

  /** @returns the rest, so that as much has come out as went in */
  flush(): Float32Array<ArrayBuffer> {
    const missing = this.#in - this.#out;
    if (missing === 0) return new Float32Array(0);
    const rest = this.#through(new Float32Array(this.delay + this.size)).subarray(0, missing);
    this.#out = this.#in;
    return rest;
  }

  #through(samples: Float32Array): Float32Array<ArrayBuffer> {
    const ready = new Float32Array(this.#filled + samples.length);
    let length = 0;
    for (let from = 0; from < samples.length;) {
      const part = samples.subarray(from, from + this.size - this.#filled);
      this.#waiting.set(part, this.#filled);
      this.#filled += part.length;
      from += part.length;
      if (this.#filled < this.size) break;
      this.work(this.#waiting);
      const skip = Math.min(this.#ahead, this.size);
      this.#ahead -= skip;
      ready.set(this.#waiting.subarray(skip), length);
      length += this.size - skip;
      this.#filled = 0;
    }
    this.#out += length;
    return ready.subarray(0, length);
  }
}
