/** How a follower layer is brought back into step with the lead layer. */
export type Correction =
  | { kind: "rate"; rate: number }
  /** Only for the first alignment and after a seek, when nothing is visibly playing in step yet. */
  | { kind: "seek"; seconds: number };

/** Within this, a layer is in step and plays at the lead's own speed. Seconds. */
export const IN_STEP = 0.012;
/** Beyond this no small rate change helps in a time that a viewer would accept; only a seek does. Seconds. */
export const OUT_OF_REACH = 0.6;
/** The largest change of speed that is not noticed in a small silent picture: 8 %. */
export const MAX_NUDGE = 0.08;

/**
 * What a follower should do, given how far it is ahead of the lead.
 *
 * The rate is proportional to the drift and aims to remove it within about half a second, at most `MAX_NUDGE` of the
 * lead's speed. ITU-R BT.1359 (from memory) puts the first noticeable sound-picture error at +45 / −125 ms; layers are
 * kept well inside that.
 *
 * @param drift follower position minus lead position, in seconds of media
 * @param rate the lead's speed (1 = normal)
 */
export function correct(drift: number, rate: number): Correction {
  if (Math.abs(drift) > OUT_OF_REACH * Math.max(1, rate)) return { kind: "seek", seconds: -drift };
  if (Math.abs(drift) <= IN_STEP) return { kind: "rate", rate };
  const nudge = Math.max(-MAX_NUDGE, Math.min(MAX_NUDGE, (-drift / rate) * 2));
  return { kind: "rate", rate: rate * (1 + nudge) };
}
