/** How a follower layer is brought back into step with the pacer, the layer whose clock counts. */
export type Correction =
  | { kind: "rate"; rate: number }
  /** it is well ahead: it stands still until the pacer has come up to it */
  | { kind: "wait" }
  /** it is so far behind that playing faster would take too long: all layers are aligned anew */
  | { kind: "align" };

/** Within this, a layer is in step and plays at the pacer's own speed. Seconds. */
export const IN_STEP = 0.012;
/** A layer that is ahead by more than this waits; one that is behind by more than this is aligned anew. Seconds. */
export const AHEAD_LIMIT = 0.3;
export const BEHIND_LIMIT = 0.8;
/**
 * The largest change of speed, as a share of the pacer's. Only reached when layers start, seek, or the machine is too
 * slow.
 */
export const MAX_NUDGE = 0.3;
/** Share of the drift that is removed in a second of playing at normal speed. */
const GAIN = 3;

/**
 * What a follower should do, given how far it is ahead of the pacer.
 *
 * The change of speed is proportional to the drift, so it is small where it would be seen and never overshoots.
 * ITU-R BT.1359 (from memory) puts the first noticeable sound-picture error at +45 / −125 ms; layers are kept well
 * inside that.
 *
 * @param drift follower position minus pacer position, in seconds of media
 * @param rate the pacer's speed (1 = normal)
 */
export function correct(drift: number, rate: number): Correction {
  if (drift > AHEAD_LIMIT * Math.max(1, rate)) return { kind: "wait" };
  if (drift < -BEHIND_LIMIT * Math.max(1, rate)) return { kind: "align" };
  if (Math.abs(drift) <= IN_STEP) return { kind: "rate", rate };
  const nudge = Math.max(-MAX_NUDGE, Math.min(MAX_NUDGE, -GAIN * drift));
  return { kind: "rate", rate: rate * (1 + nudge) };
}
