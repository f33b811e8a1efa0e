import { createReadStream } from "node:fs";
import { appendFile, readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { LevelLine } from "#core/audio/pauses";
import type { InitInfo } from "#core/media/init";
import { readSamples, writeSegment } from "#core/media/samples";
import type { TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { ffmpeg, inFolder } from "../jobs/decoder";
import type { Storage } from "../storage/storage";
import { lookOf, LOOKS, SAVE_LOOKS, TAKE_SEGMENTS, TO_LOOK_OVER } from "./sql";

/** Many small pictures of a take in one: in rows, from the top left. */
export interface Pictures {
  /** when each of them is, in the take */
  at: Micros[];
  width: number;
  height: number;
  columns: number;
}

/** What is known of a take's sounds and pictures. */
export interface Look {
  takeId: string;
  position: number;
  /** false while it is on its way */
  made: boolean;
  pictures: Pictures | null;
  hasVoice: boolean;
  hasSound: boolean;
}

interface SegmentsOfTrack {
  name: string;
  kind: TrackKind;
  init: InitInfo;
  initKey: string;
  segments: { key: string; startUs: Micros }[];
}

interface Work {
  storage: Storage;
  dir: string;
  signal: AbortSignal;
}

/** A sound may be hours long. */
const SOUND_DECODER = { megabytes: 2_048, processorSeconds: 240, wallMs: 300_000 };
const PICTURES_DECODER = { megabytes: 2_048, processorSeconds: 120, wallMs: 150_000 };
/** Enough to tell speech from quiet. */
const RATE = 8_000;
/** An hour has one for each half minute. */
const MOST_PICTURES = 120;
const COLUMNS = 10;
const WIDTH = 160;

/**
 * Looks over a whole take once: how loud its sounds are along its length, and small pictures of it. Does nothing when
 * that was done, or when the take is gone. Safe to run again.
 */
export async function lookOver(db: Database, storage: Storage, takeId: string, signal: AbortSignal): Promise<void> {
  const [wanted] = await db.rows(TO_LOOK_OVER, [takeId]);
  if (!wanted) return;
  const tracks = await db.rows<SegmentsOfTrack>(TAKE_SEGMENTS, [takeId]);
  const track = (...kinds: TrackKind[]) =>
    kinds.map((kind) => tracks.find((t) => t.name === kind)).find((found) => found !== undefined);
  await inFolder(async (dir) => {
    const work = { storage, dir, signal };
    const [voice, sound, picture] = [track("microphone"), track("sound"), track("screen", "camera")];
    const seen = picture ? await picturesOf(work, picture) : null;
    const levels = [voice ? await levelsOf(work, voice) : null, sound ? await levelsOf(work, sound) : null];
    signal.throwIfAborted();
    await db.rows(SAVE_LOOKS, [takeId, ...levels, seen && JSON.stringify(seen.pictures), seen?.strip ?? null]);
  });
}

/** How loud a track is, as a `LevelLine` has it; from the beginning of its take. */
async function levelsOf({ storage, dir, signal }: Work, track: SegmentsOfTrack): Promise<Buffer> {
  const [input, output] = [join(dir, "sound.mp4"), join(dir, "sound.raw")];
  await writeFile(input, await storage.get(track.initKey));
  // One after the other: an hour is never in memory as a whole.
  for (const { key } of track.segments) {
    signal.throwIfAborted();
    await appendFile(input, await storage.get(key));
  }
  // What is missing at the beginning, or in between, is silence.
  const whole = "aresample=async=1:first_pts=0";
  const args = ["-i", input, "-map", "0:a:0", "-af", whole, "-ac", "1", "-ar", String(RATE), "-f", "s16le", output];
  await ffmpeg(args, SOUND_DECODER, signal);
  const line = new LevelLine(RATE);
  let rest = Buffer.alloc(0);
  for await (const chunk of createReadStream(output, { signal })) {
    const bytes = Buffer.concat([rest, chunk as Buffer]);
    const samples = new Float32Array(bytes.length >> 1);
    for (let i = 0; i < samples.length; i++) samples[i] = bytes.readInt16LE(2 * i) / 32_768;
    line.push(samples);
    rest = bytes.subarray(2 * samples.length);
  }
  const levels = line.levels({ from: 0, to: Infinity });
  return Buffer.from(levels.buffer, levels.byteOffset, levels.byteLength);
}

/** Small pictures of a track, each the first of a segment: these need no other picture. */
async function picturesOf({ storage, dir, signal }: Work, { init, initKey, segments }: SegmentsOfTrack) {
  const count = Math.min(MOST_PICTURES, segments.length);
  const chosen = Array.from({ length: count }, (_, i) => segments[Math.floor((i * segments.length) / count)]!);
  const [input, output] = [join(dir, "pictures.mp4"), join(dir, "pictures.jpg")];
  await writeFile(input, await storage.get(initKey));
  const unit = init.timescale;
  for (const [i, { key }] of chosen.entries()) {
    signal.throwIfAborted();
    const [first] = readSamples(await storage.get(key), init).samples;
    const alone = { start: i * unit, samples: [{ ...first!, duration: unit }] };
    await appendFile(input, writeSegment(alone, init));
  }
  const height = 2 * Math.round((WIDTH * (init.height ?? 9)) / (init.width ?? 16) / 2);
  const rows = Math.ceil(count / COLUMNS);
  const tiled = `scale=${WIDTH}:${height},tile=${COLUMNS}x${rows}`;
  const args = ["-i", input, "-vf", tiled, "-fps_mode", "passthrough", "-frames:v", "1", "-q:v", "5", output];
  await ffmpeg(args, PICTURES_DECODER, signal);
  const pictures: Pictures = { at: chosen.map(({ startUs }) => startUs), width: WIDTH, height, columns: COLUMNS };
  return { pictures, strip: await readFile(output) };
}

/** What is known of the takes of a recording. Who may have it is checked by the callers. */
export class Looks {
  constructor(
    private readonly db: Database,
    /** asks for a take to be looked over */
    private readonly later: (takeId: string) => Promise<void>,
  ) {}

  /** Of each take, in their order; what is missing is asked for. */
  async of(recordingId: string): Promise<Look[]> {
    const looks = await this.db.rows<Look>(LOOKS, [recordingId]);
    for (const { takeId, made } of looks) if (!made) await this.later(takeId);
    return looks;
  }

  async bytes(recordingId: string, position: number, what: "voice" | "sound" | "strip"): Promise<Buffer | null> {
    const [row] = await this.db.rows<{ bytes: Buffer | null }>(lookOf(what), [recordingId, position]);
    return row?.bytes ?? null;
  }
}
