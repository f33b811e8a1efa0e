/**
 * Sound as it comes from a device, as interleaved blocks at another rate: channels mixed or doubled, rates brought over
 * by linear interpolation (enough for speech; devices nearly always deliver the rate that is asked for). Blocks follow
 * each other: what lies between two of them is reckoned from both, and lengths do not add up to more or less than they
 * are.
 */
export class Interleaver {
  #from = 0;
  /**
   * where the next sample of the result lies, from the beginning of the next block, in `to`ths of a sample of the
   * source: whole numbers, which stay exact however long it goes on
   */
  #place = 0;
  /** the last sample of each plane of the block before */
  #last: number[] = [];

  /**
   * @param to samples a second of the result
   * @param channels of the result
   */
  constructor(
    private readonly to: number,
    private readonly channels: number,
  ) {}

  /** The next block follows nothing. */
  forget(): void {
    this.#last = [];
    this.#place = 0;
  }

  /**
   * @param planes one for each channel that there is, of equal length, −1…1
   * @param from samples a second of the planes
   */
  next(planes: readonly Float32Array[], from: number): Float32Array<ArrayBuffer> {
    if (from !== this.#from || planes.length !== this.#last.length) this.forget();
    this.#from = from;
    const given = planes[0]?.length ?? 0;
    // The last sample of a block is the first of what lies between it and the next.
    const end = from === this.to ? given : given - 1;
    const length = Math.max(0, Math.ceil((end * this.to - this.#place) / from));
    const out = new Float32Array(length * this.channels);
    planes.forEach((plane, c) => this.#put(plane, { c, of: planes.length, out }));
    this.#place += length * from - given * this.to;
    this.#last = planes.map((plane, c) => plane[given - 1] ?? this.#last[c] ?? 0);
    return out;
  }

  /** Mixed down, every plane adds its share; else a plane fills the channels that have none of their own. */
  #put(plane: Float32Array, into: { c: number; of: number; out: Float32Array }): void {
    const { c, of, out } = into;
    const { channels, to } = this;
    const gain = channels === 1 ? 1 / of : 1;
    const before = this.#last[c] ?? plane[0] ?? 0;
    for (let target = 0; target < channels; target++) {
      if (channels > 1 && Math.min(target, of - 1) !== c) continue;
      for (let at = target, n = 0; at < out.length; at += channels, n++) {
        const place = this.#place + n * this.#from;
        const low = Math.floor(place / to);
        const value = low < 0 ? before : plane[low]!;
        const share = (place - low * to) / to;
        out[at]! += (share === 0 ? value : value + (plane[low + 1]! - value) * share) * gain;
      }
    }
  }
}
