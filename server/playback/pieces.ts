import type { InitInfo } from "#core/media/init";
import { shiftTicks } from "#core/media/retime";
import type { TrackKind } from "#core/media/tracks";
import { writeMediaPlaylist, type ListedSegment, type Run } from "#core/playlist/hls";
import { BRIDGED } from "#core/recipe/track-spans";
import { SECOND, toTicks, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Database } from "../database/connection";
import { IS_COMPLETE, PIECES, SEGMENTS_HERE } from "./sql";

/**
 * A run of segments of one track in a published revision. In addresses the segments of a track are numbered as they are
 * shown, over all its pieces: so no address names a segment that the revision leaves out.
 */
export interface KnownPiece {
  name: string;
  trackId: string;
  init: InitInfo;
  initKey: string;
  /** media type of its files */
  type: string;
  /** the number of its first segment in the track, and how many segments of the revision stand before it */
  first: number;
  before: number;
  /** the number of its last segment; null while all that comes in is shown */
  last: number | null;
  /** ticks by which its segments are later than their take tells; null until the first of them is here */
  shift: number | null;
  movedUs: Micros;
}

interface PieceRow {
  name: string;
  stretch: number;
  trackId: string;
  kind: TrackKind;
  init: InitInfo;
  initKey: string;
  first: number;
  last: number | null;
  movedUs: Micros;
  /** of its first segment; null while that is not here */
  startUs: Micros | null;
  durationUs: Micros | null;
  frames: number | null;
}

/** The pieces of a revision, by the names of its tracks. */
export async function piecesOf(db: Database, revisionId: string): Promise<Map<string, KnownPiece[]>> {
  const tracks = new Map<string, KnownPiece[]>();
  /** where the grid of packets lies of each track, and the stretch whose pieces are placed together */
  const phases = new Map<string, number>();
  let stretch: PieceRow | null = null;
  for (const row of await db.rows<PieceRow>(PIECES, [revisionId])) {
    const { name, trackId, init, initKey, first, last } = row;
    const pieces = tracks.get(name) ?? [];
    tracks.set(name, pieces);
    const previous = pieces.at(-1);
    const before = previous ? previous.before + previous.last! - previous.first + 1 : 0;
    const type = init.type === "video" ? "video/mp4" : "audio/mp4";
    if (!phases.has(name)) phases.set(name, toTicks((row.startUs ?? 0) + row.movedUs, init.timescale));
    // Rounded once, so that what follows in a stretch follows in the packets as well.
    const goesOn = stretch?.name === name && stretch.stretch === row.stretch && stretch.movedUs === row.movedUs;
    const shift = goesOn ? previous!.shift : shiftOf(row, phases.get(name)!);
    stretch = row;
    pieces.push({ name, trackId, init, initKey, type, first, before, last, shift, movedUs: row.movedUs });
  }
  return tracks;
}

function shiftOf({ init, movedUs, startUs, durationUs, frames }: PieceRow, phase: number): number | null {
  if (movedUs === 0) return 0;
  if (startUs === null) return null;
  const start = toTicks(startUs, init.timescale);
  const shown = ((startUs + movedUs) * init.timescale) / SECOND;
  if (init.type === "video") return shiftTicks({ start, shown }, 1, 0);
  return shiftTicks({ start, shown }, Math.max(1, Math.round(toTicks(durationUs!, init.timescale) / frames!)), phase);
}

/**
 * The piece, and the number in its track, of the segment that stands at a place of the revision's track, from 1; null
 * where none can stand, and while it is not known where the piece is shown.
 */
export function pieceOf(
  pieces: readonly KnownPiece[],
  place: number,
): { piece: KnownPiece; number: number; shift: number } | null {
  const piece = pieces.findLast((p) => p.before < place);
  if (!piece || piece.shift === null) return null;
  const number = piece.first + place - piece.before - 1;
  return piece.last === null || number <= piece.last ? { piece, number, shift: piece.shift } : null;
}

interface HereRow {
  first: number;
  last: number | null;
  movedUs: Micros;
  trackId: string;
  numbers: number[];
  starts: Micros[];
  durations: Micros[];
  endUs: Micros | null;
}

/**
 * The playlist of a track of a revision. One that grows ends before the first segment that is missing; one that is
 * complete stays as it is.
 * @param isSeen is anything seen of the track in a stretch of shown time? What is not is named, and withheld
 */
export async function mediaPlaylist(
  db: Database,
  revisionId: string,
  name: string,
  isSeen: (shown: Range) => boolean,
): Promise<{ text: string; complete: boolean }> {
  // The state first: a take that completes in between then only looks unfinished once more, never finished too early.
  const [growing] = await db.rows<{ complete: boolean }>(IS_COMPLETE, [revisionId]);
  const complete = growing?.complete ?? true;
  const rows = await db.rows<HereRow>(SEGMENTS_HERE, [revisionId, name]);
  // What was edited is placed by what it shows: where a track has nothing, it says so from its beginning on.
  const edited = rows.every(({ last }) => last !== null);
  let before = 0;
  let end: Micros = 0;
  const runs: Run[] = [];
  /** the place of the first piece of each track, which its init segment is named after */
  const inits = new Map<string, number>();
  for (const [i, row] of rows.entries()) {
    const { first, last, numbers, starts, durations, movedUs } = row;
    const place = before;
    before += last === null ? 0 : last - first + 1;
    const hole = last === null && !complete ? numbers.findIndex((n, k) => n !== first + k) : -1;
    const segments = (hole < 0 ? numbers : numbers.slice(0, hole)).map((n, k): ListedSegment => {
      const duration = durations[k]!;
      const from = starts[k]! + movedUs;
      const withheld = !isSeen({ from, to: from + duration });
      return { uri: `${name}/${place + n - first + 1}.m4s`, duration, ...(withheld && { withheld }) };
    });
    if (segments.length === 0) continue;
    if (!inits.has(row.trackId)) inits.set(row.trackId, i + 1);
    const init = inits.get(row.trackId)!;
    const silence = starts[0]! + movedUs - end;
    const previous = runs.at(-1)?.segments.at(-1);
    // The last segment before it is told to be so much longer.
    if (previous && silence > 0 && silence <= BRIDGED) previous.duration += silence;
    const isGap = (edited || movedUs !== 0) && silence > BRIDGED;
    runs.push({
      initUri: `${name}/init${init === 1 ? "" : `-${init}`}.mp4`,
      segments,
      gap: isGap ? silence : undefined,
    });
    end = row.endUs! + movedUs;
  }
  // Named before anything of it is here.
  if (runs.length === 0) runs.push({ initUri: `${name}/init.mp4`, segments: [] });
  return { text: writeMediaPlaylist({ runs, complete }), complete };
}
