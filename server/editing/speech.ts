import { readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { LevelLine, pausesIn } from "#core/audio/pauses";
import type { Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Database } from "../database/connection";
import { ffmpeg } from "../jobs/decoder";
import { inFolder } from "../jobs/work-room";
import type { Storage } from "../storage/storage";
import { VOICE_SEGMENTS } from "./sql";

/** A minute of a voice at the most. */
const VOICE_DECODER = { megabytes: 1_024, processorSeconds: 20, wallMs: 30_000 };
const RATE = 16_000;

interface VoiceRow {
  key: string;
  initKey: string;
  startUs: Micros;
}

/**
 * The pauses in what is said in a stretch of a take, in its own time.
 * @returns none where nothing is said, or nothing tells a voice from the room
 */
export async function pausesAround(
  db: Database,
  storage: Storage,
  takeId: string,
  { from, to }: Range,
  signal: AbortSignal,
): Promise<Range[]> {
  const segments = await db.rows<VoiceRow>(VOICE_SEGMENTS, [takeId, from, to]);
  const [first] = segments;
  if (!first) return [];
  return inFolder(async (dir) => {
    const [input, output] = [join(dir, "voice.mp4"), join(dir, "voice.raw")];
    const parts = [await storage.get(first.initKey)];
    for (const { key } of segments) parts.push(await storage.get(key));
    await writeFile(input, Buffer.concat(parts));
    const args = ["-i", input, "-map", "0:a:0", "-ac", "1", "-ar", String(RATE), "-f", "f32le", output];
    await ffmpeg(args, VOICE_DECODER, signal);
    const line = new LevelLine(RATE);
    line.push(new Float32Array(new Uint8Array(await readFile(output)).buffer));
    return pausesIn(line.levels({ from: 0, to: Infinity }), first.startUs);
  });
}
