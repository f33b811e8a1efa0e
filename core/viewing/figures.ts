import type { Micros } from "../time/micros";
import { COMPLETION_THRESHOLD, LEAST_VIEW } from "./definitions";
import type { Folded } from "./fold";
import { union, type Range, type RangeSet } from "../time/ranges";
import { areaOf, sampleSteps, stepsOfStretches } from "./steps";

const MS: Micros = 1000;

/** A stretch of what one viewer has seen. */
export type Seen = Range;

export interface ViewerFigures {
  /** seen, each moment once */
  covered: Micros;
  /** of the length, 0 to 1 */
  share: number;
  finished: boolean;
  /** the end of the last thing seen */
  lastSeen: Micros;
  watched: boolean;
}

export interface CurvePoint {
  at: Micros;
  /** share of those who watched who saw this moment, 0 to 1 */
  there: number;
  /** plays of this moment beyond the first, for each who watched */
  again: number;
}

export interface Chapter {
  at: Micros;
  title: string;
}

export interface ChapterFigures extends Chapter {
  to: Micros;
  /** the share of the chapter that those who watched saw on average */
  share: number;
  again: number;
}

export interface Moment {
  kind: "again" | "leave" | "not-clear";
  at: Micros;
  /** times played again for each viewer; people who left; people to whom it was not clear */
  value: number;
}

export interface RecordingFigures {
  watched: number;
  finished: number;
  averageShare: number;
  curve: CurvePoint[];
  chapters: ChapterFigures[];
  moments: Moment[];
}

/** What viewer number `v` has seen. */
export function seenBy(folded: Folded, v: number): Seen[] {
  const out: Seen[] = [];
  for (let i = folded.first[v]!; i < folded.first[v + 1]!; i++)
    out.push({ from: folded.from[i]! * MS, to: folded.to[i]! * MS });
  return out;
}

/** @param length of the recording; nothing beyond it counts */
export function viewerFigures({ first, from, to }: Folded, v: number, length: Micros): ViewerFigures {
  const end = Math.floor(length / MS);
  const last = first[v + 1]!;
  let covered = 0;
  for (let i = first[v]!; i < last; i++) covered += (to[i]! < end ? to[i]! : end) - (from[i]! < end ? from[i]! : end);
  const share = length > 0 ? (covered * MS) / length : 0;
  const lastSeen = last > first[v]! ? Math.min(end, to[last - 1]!) * MS : 0;
  return {
    covered: covered * MS,
    share,
    finished: share >= COMPLETION_THRESHOLD,
    lastSeen,
    watched: covered * MS >= LEAST_VIEW,
  };
}

/** How many viewers have watched. Linear in what was folded. */
export function watchers(folded: Folded, length: Micros): number {
  let count = 0;
  for (let v = 0; v < folded.viewers; v++) if (viewerFigures(folded, v, length).watched) count++;
  return count;
}

/** What one viewer played more than once, from their spans. O(n log n). */
export function playedAgain(spans: readonly Seen[]): RangeSet {
  const column = (edge: "from" | "to") => Uint32Array.from(spans, (s) => s[edge] / MS);
  const { at, count } = stepsOfStretches(column("from"), column("to"));
  const out: Seen[] = [];
  for (let i = 0; i < at.length; i++) if (count[i]! >= 2) out.push({ from: at[i]! * MS, to: at[i + 1]! * MS });
  return union(out);
}

/**
 * The share of those who watched who were there, over so many equal parts of the length, as bytes 0 to 255: a strip for
 * lists.
 */
export function attentionStrip(curve: readonly CurvePoint[], parts: number): Uint8Array {
  return Uint8Array.from({ length: parts }, (_, i) => {
    const [a, b] = [Math.floor((i * curve.length) / parts), Math.max(1, Math.floor(((i + 1) * curve.length) / parts))];
    const some = curve.slice(a, Math.max(a + 1, b));
    return Math.round((255 * some.reduce((sum, p) => sum + p.there, 0)) / Math.max(1, some.length));
  });
}

export interface Options {
  chapters?: readonly Chapter[];
  /** moments at which somebody said "not clear yet" */
  notClear?: readonly Micros[];
  /** how many points the curve has */
  points?: number;
}

/** The figures of all viewers together; the sender's own spans are not to be among them. Linear in what was folded. */
export function recordingFigures(
  folded: Folded,
  length: Micros,
  { chapters = [], notClear = [], points = 200 }: Options = {},
): RecordingFigures {
  const end = length / MS;
  const to = folded.to.slice();
  const left: number[] = [];
  let watched = 0;
  let finished = 0;
  let shares = 0;
  for (let v = 0; v < folded.viewers; v++) {
    const figures = viewerFigures(folded, v, length);
    if (!figures.watched) {
      // Who has not watched is nobody who was there: their stretches are made empty.
      to.fill(0, folded.first[v]!, folded.first[v + 1]!);
      continue;
    }
    watched++;
    shares += figures.share;
    if (figures.finished) finished++;
    if (figures.lastSeen < length * COMPLETION_THRESHOLD) left.push(figures.lastSeen);
  }
  const seen = stepsOfStretches(folded.from, to);
  const moments = Array.from({ length: points }, (_, i) => ((i + 0.5) * end) / points);
  const people = sampleSteps(seen, moments);
  const plays = sampleSteps(folded.plays, moments);
  const each = (value: number) => (watched > 0 ? value / watched : 0);
  const curve = moments.map((ms, i) => ({
    at: Math.round(ms * MS),
    there: each(people[i]!),
    again: each(Math.max(0, plays[i]! - people[i]!)),
  }));
  const perChapter = chapters.map(({ at, title }, i): ChapterFigures => {
    const until = chapters[i + 1]?.at ?? length;
    const size = (until - at) / MS;
    const area = (steps: typeof seen) => (size > 0 ? each(areaOf(steps, at / MS, until / MS) / size) : 0);
    return { at, title, to: until, share: area(seen), again: Math.max(0, area(folded.plays) - area(seen)) };
  });
  return {
    watched,
    finished,
    averageShare: each(shares),
    curve,
    chapters: perChapter,
    moments: momentsToLookAt(curve, left, notClear, length),
  };
}

/**
 * At most one moment of each kind that is worth a look: played again by one in five, left by two people, not clear to
 * one.
 */
function momentsToLookAt(
  curve: readonly CurvePoint[],
  left: readonly Micros[],
  notClear: readonly Micros[],
  length: Micros,
): Moment[] {
  const out: Moment[] = [];
  const again = curve.reduce<CurvePoint | null>((best, p) => (p.again > (best?.again ?? 0) ? p : best), null);
  if (again && again.again >= 0.2) out.push({ kind: "again", at: again.at, value: again.again });
  const unclear = crowded(notClear, length / 15);
  if (unclear) out.push({ kind: "not-clear", ...unclear });
  const leaving = crowded(left, length / 15);
  if (leaving && leaving.value >= 2) out.push({ kind: "leave", ...leaving });
  return out;
}

/** Where the most moments lie within `width`: the first of them, and how many. O(n log n). */
function crowded(moments: readonly Micros[], width: Micros): { at: Micros; value: number } | null {
  const sorted = Float64Array.from(moments).sort();
  let best: { at: Micros; value: number } | null = null;
  for (let i = 0, j = 0; j < sorted.length; j++) {
    while (sorted[j]! - sorted[i]! > width) i++;
    if (j - i + 1 > (best?.value ?? 0)) best = { at: sorted[i]!, value: j - i + 1 };
  }
  return best;
}
