import { lastAt } from "../time/last-at";
import { SECOND, type Micros } from "../time/micros";
import type { Range } from "../time/ranges";

/** One segment of a track that is here, in ticks of the track, from the beginning of its take. */
export interface TrackSegment {
  number: number;
  start: number;
  end: number;
}

/** A track of a take, as far as it matters for cutting it. */
export interface CutTrack {
  timescale: number;
  /**
   * ticks of the smallest thing that can be kept: one packet of sound, which is never encoded anew. Pictures can be cut
   * at each tick: 1
   */
  unit: number;
  /** in order; some may be missing */
  segments: readonly TrackSegment[];
}

/**
 * What a track plays of a stretch: whole segments with these numbers, or an edge: the part `[from, to)` of one segment,
 * in ticks. An edge that does not begin with its segment needs a picture that can be decoded by itself.
 */
export type TrackPiece = ({ first: number; last: number } | Edge) & {
  /** ticks by which it is shown later than its take tells */
  later: number;
};
export interface Edge {
  of: number;
  from: number;
  to: number;
}
export const isEdge = (piece: TrackPiece): piece is Edge & { later: number } => "of" in piece;

/**
 * What a track plays of one kept stretch. Players count the packets of sound, so that all of it lies on one unbroken
 * grid: with units of N ticks, a stretch that is shown from O on plays the units `round(O / N)` to
 * `round((O + length) / N)` of the shown line, each shown by the same number of whole units later than in its take.
 * Everything comes from absolute values: at most half a unit off, which never adds up.
 * @param stretch in the time of the take
 * @param shown where it begins to be shown
 */
export function piecesOfStretch({ timescale, unit, segments }: CutTrack, stretch: Range, shown: Micros): TrackPiece[] {
  const ticks = (moment: Micros) => (moment * timescale) / SECOND;
  const begins = Math.round(ticks(shown) / unit);
  const units = Math.round(ticks(shown + stretch.to - stretch.from) / unit) - begins;
  // Where the grid lies in the take.
  const phase = segments.length === 0 ? 0 : segments[0]!.start % unit;
  const from = phase + (begins + Math.round((ticks(stretch.from - shown) - phase) / unit)) * unit;
  const to = from + units * unit;
  const later = begins * unit - from;
  const out: TrackPiece[] = [];
  const before = lastAt(0, segments.length, (i) => segments[i]!.end <= from);
  for (const { number, start, end } of segments.slice(before + 1)) {
    if (start >= to) break;
    if (start < from || end > to) {
      out.push({ of: number, from: Math.max(from, start), to: Math.min(to, end), later });
      continue;
    }
    const last = out.at(-1);
    if (last && !isEdge(last) && last.last === number - 1) last.last = number;
    else out.push({ first: number, last: number, later });
  }
  return out;
}
