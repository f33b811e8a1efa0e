import { readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import type { InitInfo } from "#core/media/init";
import { PICTURE_RATE, type TakeSource, type TrackKind } from "#core/media/tracks";
import { frameAt } from "#core/recipe/frames";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import type { Storage } from "../storage/storage";
import { ffmpeg, picturesOf } from "./decoder";

/** Behind what does not fill the frame: the colour of the player's ground. */
export const GROUND = "#16302B";

/** A segment that the published revision shows. What it does not show is in no poster. */
export interface ShownSegment {
  kind: TrackKind;
  init: InitInfo;
  initKey: string;
  takeId: string;
  source: TakeSource;
  key: string;
  /** in its take, and how much later it is shown */
  startUs: Micros;
  movedUs: Micros;
}

/** Where pictures come from, and where they are worked on. */
export interface Source {
  db: Database;
  storage: Storage;
  dir: string;
  /** given when nobody wants the poster any more */
  signal: AbortSignal;
}

const PICTURE_DECODER = { megabytes: 2_048, processorSeconds: 20, wallMs: 60_000 };

/** A frame of a segment as PNG. @param after how long after the beginning of the segment */
export async function pictureOf(source: Source, segment: ShownSegment, after: Micros = 0): Promise<Buffer> {
  const { storage, dir, signal } = source;
  const [input, output] = [join(dir, `${segment.kind}.mp4`), join(dir, `${segment.kind}.png`)];
  await writeFile(input, Buffer.concat([await storage.get(segment.initKey), await storage.get(segment.key)]));
  // The last one that had begun by then.
  const n = frameAt(after);
  const one = picturesOf(PICTURE_RATE, n, n + 1).join(",");
  await ffmpeg(["-i", input, "-vf", one, "-frames:v", "1", output], PICTURE_DECODER, signal);
  return readFile(output);
}
