/** What a pace knows of one picture track. */
export interface PaceCounts {
  /** frames that the grid asked for */
  due: number;
  /** of these, given to the encoder */
  given: number;
  /** given, and not yet come out as packets */
  inHand: number;
  /** every how many frames of the grid one is given: 1, or 2 while the computer cannot do more */
  step: 1 | 2;
}

/** When a track slows down and when it tries again. Frames are those of the grid. */
export interface PacePolicy {
  /** given frames that may be without their packet; with more, the next one is left out and never queued */
  inHandMost: number;
  /** how many of the last frames are looked at */
  window: number;
  /** of them, this many left out halve the rate */
  leftOutMost: number;
  /** frames of the half rate, all given, after which the whole rate is tried again */
  rest: number;
  /** each try that fails soon makes the next rest so many times longer */
  patience: number;
  restMost: number;
}

export const PACE: PacePolicy = {
  inHandMost: 8,
  window: 90,
  leftOutMost: 30,
  rest: 300,
  patience: 2,
  restMost: 3600,
};

/**
 * Decides frame by frame whether an encoder gets another one. Counted as frames in against packets out: what waits
 * inside an encoder is seen, whatever its own queue says. Drops that are long ago are forgotten.
 */
export class Pace {
  #due = 0;
  #given = 0;
  #out = 0;
  #step: 1 | 2 = 1;
  /** the last frames of the grid, `true` where one was left out */
  #recent: boolean[] = [];
  #leftOut = 0;
  #rest: number;
  #sinceChange = 0;
  #last = -1;
  #tried = false;

  constructor(private readonly policy: PacePolicy = PACE) {
    this.#rest = policy.rest;
  }

  get counts(): PaceCounts {
    return { due: this.#due, given: this.#given, inHand: this.#given - this.#out, step: this.#step };
  }

  /**
   * The clock has come to a frame of the grid.
   * @param index its number, from 0; those that were passed over since the last call count as left out
   * @returns whether to give it; the caller then does
   */
  reach(index: number): boolean {
    if (index <= this.#last) return false;
    const passed = this.#last < 0 ? 0 : index - this.#last - 1;
    this.#last = index;
    this.#due += passed + 1;
    if (this.#step === 2 && index % 2 !== 0) return false;
    const behind = this.#given - this.#out >= this.policy.inHandMost;
    // At half rate every second frame is passed over on purpose.
    for (let n = 0; n < Math.floor(passed / this.#step); n++) this.#note(true);
    this.#note(behind);
    this.#adapt();
    if (behind) return false;
    this.#given++;
    return true;
  }

  /** A packet came out of the encoder. */
  packet(): void {
    this.#out++;
  }

  #note(leftOut: boolean): void {
    this.#recent.push(leftOut);
    if (leftOut) this.#leftOut++;
    if (this.#recent.length > this.policy.window && this.#recent.shift()) this.#leftOut--;
    this.#sinceChange++;
  }

  #adapt(): void {
    if (this.#step === 1 && this.#leftOut >= this.policy.leftOutMost) {
      // Slow again soon after it was tried: wait longer the next time.
      const failed = this.#tried && this.#sinceChange < this.policy.rest;
      this.#rest = failed ? Math.min(this.policy.restMost, this.#rest * this.policy.patience) : this.policy.rest;
      this.#change(2);
    } else if (this.#step === 2 && this.#leftOut === 0 && this.#sinceChange >= this.#rest) {
      this.#tried = true;
      this.#change(1);
    }
  }

  #change(step: 1 | 2): void {
    this.#step = step;
    this.#recent = [];
    this.#leftOut = 0;
    this.#sinceChange = 0;
  }
}
