import { lastAt } from "../time/last-at";
import { SECOND, type Micros } from "../time/micros";
import { intersect, subtract, union, type Range, type RangeSet } from "../time/ranges";

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
  /** nothing of its sound: as many packets of silence */
  silent?: boolean;
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

/**
 * The same pieces with silence where nothing is to be heard. A packet is heard together with the one before it, so one
 * more at each side is silent.
 * @param muted in the time of the take, in order
 */
export function silenced(
  pieces: readonly TrackPiece[],
  { timescale, unit, segments }: CutTrack,
  muted: readonly Range[],
): TrackPiece[] {
  if (muted.length === 0 || segments.length === 0) return [...pieces];
  const phase = segments[0]!.start % unit;
  const units = (moment: Micros) => ((moment * timescale) / SECOND - phase) / unit;
  const quiet = union(
    muted.map(({ from, to }) => ({
      from: phase + (Math.floor(units(from)) - 1) * unit,
      to: phase + (Math.ceil(units(to)) + 1) * unit,
    })),
  );
  const bounds = new Map(segments.map((segment) => [segment.number, segment]));
  return pieces.flatMap((piece): TrackPiece[] => {
    const { later } = piece;
    if (isEdge(piece)) return parted(piece, quiet).map((part) => ({ ...part, later }));
    const out: TrackPiece[] = [];
    for (let number = piece.first; number <= piece.last; number++) {
      const { start, end } = bounds.get(number)!;
      const parts = parted({ of: number, from: start, to: end }, quiet);
      const [first] = parts;
      if (parts.length > 1 || first!.silent) {
        out.push(...parts.map((part) => ({ ...part, later })));
        continue;
      }
      const last = out.at(-1);
      if (last && !isEdge(last)) last.last = number;
      else out.push({ first: number, last: number, later });
    }
    return out;
  });
}

/** A part of a segment as those that are silent and those that are not, in order. */
function parted({ of, from, to }: Edge, quiet: RangeSet): Edge[] {
  const whole = { from, to };
  return [
    ...subtract([whole], quiet).map((part) => ({ of, ...part })),
    ...intersect([whole], quiet).map((part) => ({ of, ...part, silent: true })),
  ].sort((a, b) => a.from - b.from);
}
