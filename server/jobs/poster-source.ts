import { readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import type { InitInfo } from "#core/media/init";
import type { TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import type { Storage } from "../storage/storage";
import { ffmpeg } from "./decoder";

/** Behind what does not fill the frame: the colour of the player's ground. */
export const GROUND = "#16302B";

export interface PosterTrack {
  id: string;
  kind: TrackKind;
  init: InitInfo;
  initKey: string;
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

/** The first frame of a segment as PNG, and its source time; null when the segment is not here. */
export async function pictureAt(
  source: Source,
  track: PosterTrack,
  number: number,
): Promise<{ png: Buffer; at: Micros } | null> {
  const { db, storage, dir } = source;
  const row = await db.models.Segment.findOne({ where: { trackId: track.id, number } });
  if (!row) return null;
  const input = join(dir, `${track.kind}-${number}.mp4`);
  const output = join(dir, `${track.kind}-${number}.png`);
  await writeFile(input, Buffer.concat([await storage.get(track.initKey), await storage.get(row.key)]));
  await ffmpeg(["-i", input, "-frames:v", "1", output], PICTURE_DECODER, source.signal);
  return { png: await readFile(output), at: row.startUs };
}
