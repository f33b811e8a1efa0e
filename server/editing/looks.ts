import { appendFile, readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import type { Logger } from "pino";
import { LoudnessMeter, TruePeak } from "#core/audio/loudness";
import { LevelLine } from "#core/audio/pauses";
import type { InitInfo } from "#core/media/init";
import { readSamples, writeSegment } from "#core/media/samples";
import type { TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { channelsOf, ffmpeg, ffmpegOut, inFolder } from "../jobs/decoder";
import type { Storage } from "../storage/storage";
import type { Look, Measured, Pictures } from "./look";
import { lookOf, LOOKS, SAVE_LOOKS, TAKE_SEGMENTS, TO_LOOK_OVER } from "./sql";

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
/** As loudness is measured (BS.1770-4). */
const RATE = 48_000;
/** An hour has one for each half minute. */
const MOST_PICTURES = 120;
const COLUMNS = 10;
const WIDTH = 160;

/**
 * Looks over a whole take once: how loud its sounds are along its length, and small pictures of it. Does nothing when
 * that was done, or when the take is gone. Safe to run again.
 */
export async function lookOver(
  { db, storage, log }: { db: Database; storage: Storage; log: Logger },
  takeId: string,
  signal: AbortSignal,
): Promise<void> {
  const [wanted] = await db.rows(TO_LOOK_OVER, [takeId]);
  if (!wanted) return;
  const tracks = await db.rows<SegmentsOfTrack>(TAKE_SEGMENTS, [takeId]);
  const track = (...kinds: TrackKind[]) =>
    kinds.map((kind) => tracks.find((t) => t.name === kind)).find((found) => found !== undefined);
  await inFolder(async (dir) => {
    const work = { storage, dir, signal };
    const [voice, sound, picture] = [track("microphone"), track("sound"), track("screen", "camera")];
    // What cannot be read has no look, and is not tried over and over.
    const orNothing = <T>(made: Promise<T>) =>
      made.catch(async (error: unknown) => {
        signal.throwIfAborted();
        // Erased meanwhile, rows first: then there is nothing to look over, and nothing to tell.
        const [still] = await db.rows(TO_LOOK_OVER, [takeId]);
        if (still) log.warn({ err: error, takeId }, "a track cannot be looked over");
        return null;
      });
    const seen = picture ? await orNothing(picturesOf(work, picture)) : null;
    const said = voice ? await orNothing(soundOf(work, voice)) : null;
    const heard = sound ? await orNothing(soundOf(work, sound)) : null;
    signal.throwIfAborted();
    const measured = JSON.stringify({ microphone: said?.as, sound: heard?.as });
    const pictures = seen && JSON.stringify(seen.pictures);
    const columns = [said?.levels ?? null, heard?.levels ?? null, pictures, seen?.strip ?? null, measured];
    await db.rows(SAVE_LOOKS, [takeId, ...columns]);
  });
}

/** How loud a track is along its length, as a `LevelLine` has it from the beginning of its take; and all of it. */
async function soundOf(
  { storage, dir, signal }: Work,
  track: SegmentsOfTrack,
): Promise<{ levels: Buffer; as: Measured }> {
  const input = join(dir, "sound.mp4");
  await writeFile(input, await storage.get(track.initKey));
  // One after the other: an hour is never in memory as a whole.
  for (const { key } of track.segments) {
    signal.throwIfAborted();
    await appendFile(input, await storage.get(key));
  }
  // An init segment may say two of one (two is the template value of ISO/IEC 14496-12): the decoder knows.
  const channels = Math.min(2, await channelsOf(input, signal));
  // What is missing at the beginning, or in between, is silence.
  const whole = "aresample=async=1:first_pts=0";
  const form = ["-ac", String(channels), "-ar", String(RATE), "-f", "f32le", "-"];
  const line = new LevelLine(RATE);
  const meter = new LoudnessMeter(RATE, channels);
  const peaks = Array.from({ length: channels }, () => new TruePeak());
  const frame = 4 * channels;
  let rest = Buffer.alloc(0);
  for await (const chunk of ffmpegOut(["-i", input, "-map", "0:a:0", "-af", whole, ...form], SOUND_DECODER, signal)) {
    const bytes = Buffer.concat([rest, chunk]);
    const length = Math.floor(bytes.length / frame);
    const heard = Array.from({ length: channels }, () => new Float32Array(length));
    const mean = new Float32Array(length);
    for (let i = 0; i < length; i++)
      for (let c = 0; c < channels; c++) {
        const sample = bytes.readFloatLE(i * frame + 4 * c);
        heard[c]![i] = sample;
        mean[i]! += sample / channels;
      }
    line.push(mean);
    meter.push(heard);
    peaks.forEach((peak, c) => peak.push(heard[c]!));
    rest = bytes.subarray(length * frame);
  }
  const levels = line.levels({ from: 0, to: Infinity });
  const as = { loudness: meter.integrated, peak: Math.max(...peaks.map((peak) => peak.dbtp)) };
  return {
    levels: Buffer.from(levels.buffer, levels.byteOffset, levels.byteLength),
    as: { loudness: finite(as.loudness), peak: finite(as.peak) },
  };
}

/** Silence has no level; JSON has no infinity. */
const finite = (decibels: number) => (Number.isFinite(decibels) ? decibels : null);

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
