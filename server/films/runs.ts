import { writeFile } from "node:fs/promises";
import type { InitInfo } from "#core/media/init";
import { retime } from "#core/media/retime";
import type { TrackName } from "#core/media/tracks";
import { SECOND, toTicks, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Storage } from "../storage/storage";

/** Segments of a track that follow each other, as a revision plays them. */
export interface Run {
  name: TrackName;
  trackId: string;
  init: InitInfo;
  initKey: string;
  /** by how much they are shown later than their take tells */
  later: Micros;
  /** in order; `start` in the time of their take */
  segments: { key: string; start: Micros; duration: Micros }[];
}

/** A run, and by how many ticks of its track it is later than its take tells. */
export type MovedRun = Run & { ticks: number };

/** Where it is, in shown time. */
export function shownRange({ later, segments }: Run): Range {
  const last = segments.at(-1)!;
  return { from: segments[0]!.start + later, to: last.start + last.duration + later };
}

/** Writes a run as one file, one segment after the other: never all of it is in memory. */
export async function writeRun(storage: Storage, run: Run, file: string, signal: AbortSignal) {
  await writeRuns(storage, [{ ...run, ticks: 0 }], file, signal);
}

/** What sounds have in common that one decoder takes one after the other. */
const ALIKE = ["codec", "timescale", "channels", "sampleRate", "trackId"] as const;

/**
 * Writes a run of sound as one file that begins with the end of what is heard before it. A decoder that begins in the
 * middle gives nothing at first, or too little (RFC 7845, 4.6; the overlap of AAC's transforms): with something to
 * begin with, it gives all of the run.
 * @param before what is heard until it begins; null for nothing
 * @returns by how much its file begins earlier; 0 where that is of another kind of sound, and the run begins by itself
 */
export async function writeRunAfter(
  storage: Storage,
  before: Run | null,
  run: Run,
  file: string,
  signal: AbortSignal,
): Promise<Micros> {
  const last = before?.segments.at(-1);
  if (!before || !last || ALIKE.some((key) => before.init[key] !== run.init[key])) {
    await writeRun(storage, run, file, signal);
    return 0;
  }
  const ticksOf = (moment: Micros) => toTicks(moment, run.init.timescale);
  const start = ticksOf(last.start);
  const length = ticksOf(last.start + last.duration) - start;
  // What lies before is at the beginning of the file's time, and the run where that ends.
  const moved = [
    { ...run, segments: [last], ticks: -start },
    { ...run, ticks: length - ticksOf(run.segments[0]!.start) },
  ];
  await writeRuns(storage, moved, file, signal);
  return (length / run.init.timescale) * SECOND;
}

/** Writes runs of one track one after the other, as they are shown. */
export async function writeRuns(storage: Storage, runs: readonly MovedRun[], file: string, signal: AbortSignal) {
  await writeFile(file, await storage.get(runs[0]!.initKey));
  for (const { segments, ticks } of runs)
    for (const { key } of segments) {
      signal.throwIfAborted();
      await writeFile(file, retime(await storage.get(key), ticks), { flag: "a" });
    }
}
