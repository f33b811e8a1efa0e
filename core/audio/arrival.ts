import type { Micros } from "../time/micros";

/** A step back that is smaller than this is a device's unsteady clock (one that is computed varies by 9 ms): 50 ms. */
const STEP: Micros = 50_000;

/**
 * Where a device's own time lies in ours, told from when its blocks arrive. A block can be late for many reasons and
 * early for none, so the least delayed of the last seconds tells it; older ones are forgotten, because clocks drift.
 * A device whose time steps back (some tell another one for their first blocks) is learnt anew.
 */
export class ArrivalOffset {
  #current = Infinity;
  #before = Infinity;
  #turn: Micros | null = null;
  #end = -Infinity;

  /** @param window how long an arrival counts, at least; twice as long at the most */
  constructor(private readonly window: Micros = 5_000_000) {}

  /**
   * @param arrived when a block arrived, on our clock
   * @param end the end of the block, on the device's clock
   * @returns our time minus the device's, as far as is known now
   */
  next(arrived: Micros, end: Micros): Micros {
    if (this.stepsBack(end)) this.forget();
    this.#end = end;
    this.#turn ??= arrived;
    if (arrived - this.#turn >= this.window) {
      this.#before = this.#current;
      this.#current = Infinity;
      this.#turn = arrived;
    }
    this.#current = Math.min(this.#current, arrived - end);
    return Math.min(this.#current, this.#before);
  }

  /** Does a block that ends there tell another time than those before? What they told is then of no use. */
  stepsBack(end: Micros): boolean {
    return end < this.#end - STEP;
  }

  /** After a pause our clock has stood still: everything is learnt anew. */
  forget(): void {
    this.#current = this.#before = Infinity;
    this.#turn = null;
    this.#end = -Infinity;
  }
}
