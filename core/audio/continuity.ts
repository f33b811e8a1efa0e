/** What to do with a block of sound so that its track has neither holes nor overlaps. In samples. */
export interface Placement {
  /** silence to write before the block */
  silence: number;
  /** samples of the block to leave out at its start; the whole block when it lies in the past */
  skip: number;
}

/**
 * Places a block that should start at `wanted` in a track that already has `written` samples. Small differences are the
 * jitter of
 * delivery and are ignored; larger ones are a lost device, a pause, or clocks that drift apart.
 *
 * @param tolerance samples of jitter that are let pass
 */
export function place(written: number, wanted: number, length: number, tolerance: number): Placement {
  const gap = wanted - written;
  if (gap > tolerance) return { silence: gap, skip: 0 };
  if (gap < -tolerance) return { silence: 0, skip: Math.min(length, -gap) };
  return { silence: 0, skip: 0 };
}
