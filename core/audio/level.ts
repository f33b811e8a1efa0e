/** The lowest level shown. Quieter than this reads as silence. dBFS. */
export const FLOOR = -60;

/** A linear amplitude (1 = full scale) in dBFS, not below `FLOOR`. */
export function toDecibels(amplitude: number): number {
  return amplitude > 0 ? Math.max(FLOOR, 20 * Math.log10(amplitude)) : FLOOR;
}

/** Holds the highest level for a while, then lets it fall at a steady rate. Makes no assumption about a clock. */
export class PeakHold {
  #level = FLOOR;
  #since = 0;

  /**
   * @param hold how long a peak stands, ms
   * @param fall how fast it falls after that, dB per second (common practice, no published source: about 20)
   */
  constructor(
    private readonly hold = 1500,
    private readonly fall = 20,
  ) {}

  /** Feeds a level in dBFS at a time in ms; returns the level to show. */
  next(level: number, now: number): number {
    const fallen = this.#level - (Math.max(0, now - this.#since - this.hold) / 1000) * this.fall;
    if (level >= fallen) {
      this.#level = level;
      this.#since = now;
      return level;
    }
    return Math.max(FLOOR, fallen);
  }
}

/** What a level means to a speaker, in a word. Common practice, no published source. */
export function levelWord(peak: number): "silent" | "quiet" | "good" | "too loud" {
  if (peak <= -55) return "silent";
  if (peak < -30) return "quiet";
  return peak <= -1 ? "good" : "too loud";
}
