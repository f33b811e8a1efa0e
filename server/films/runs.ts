import { writeFile } from "node:fs/promises";
import type { InitInfo } from "#core/media/init";
import { retime } from "#core/media/retime";
import type { TrackName } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
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
export async function writeRun(storage: Storage, { initKey, segments }: Run, file: string, signal: AbortSignal) {
  await writeFile(file, await storage.get(initKey));
  for (const { key } of segments) {
    signal.throwIfAborted();
    await writeFile(file, await storage.get(key), { flag: "a" });
  }
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
