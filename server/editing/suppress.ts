import { randomUUID } from "node:crypto";
import { readdir, readFile } from "node:fs/promises";
import { createRequire } from "node:module";
import { join } from "node:path";
import { setImmediate as othersTurn } from "node:timers/promises";
import type { Logger } from "pino";
import { lastOf, type Suppressing } from "#core/audio/suppressing";
import { openSuppression } from "#core/audio/suppression";
import { readInit } from "#core/media/init";
import { readSegment } from "#core/media/segment";
import { splitTrack } from "#core/media/split";
import { SEGMENT_SECONDS, SUPPRESSED } from "#core/media/tracks";
import { fromTicks, type Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { ffmpegFed } from "../jobs/decoder";
import { inFolder } from "../jobs/work-room";
import { digestOf, shortDigest, type Storage } from "../storage/storage";
import { fileOf, inBytes, Measure, RATE, samplesOf, type SegmentsOfTrack, type Work } from "./sounds";
import {
  END_SUPPRESSION,
  KEEP_SUPPRESSED,
  SUPPRESSIONS_WAITED_FOR,
  TAKE_SEGMENTS,
  TO_SUPPRESS,
  WANT_SUPPRESSED,
} from "./sql";

/** Somebody waits for it, and an hour of it takes three minutes: most of them are not ffmpeg's. */
const LIMITS = { megabytes: 2_048, processorSeconds: 600, wallMs: 850_000 };
/** So many samples are worked on before others who wait have their turn: about 2 ms of work. */
const AT_ONCE = 4_800;

/** How each codec is encoded, and by how many samples its encoder is late (of ffmpeg 5.1 and libopus, measured). */
const CODECS = {
  aac: { args: ["-c:a", "aac", "-b:a", "96k"], late: 1_024 },
  opus: { args: ["-c:a", "libopus", "-b:a", "64k"], late: 312 },
};

/** Voices of takes without the noise around them: another track of each, made once, when somebody wants it. */
export class Suppressions {
  constructor(
    private readonly db: Database,
    /** asks for the work on a take */
    private readonly later: (takeId: string) => Promise<void>,
  ) {}

  /** What is waited for goes on: the process that worked on it may have died. Done twice, it is the same. */
  async goOn(): Promise<void> {
    for (const { id } of await this.db.rows<{ id: string }>(SUPPRESSIONS_WAITED_FOR, [])) await this.later(id);
  }

  /** Asks for what is missing of these takes of a recording. @returns where the last of them stands */
  async want(recordingId: string, positions: readonly number[]): Promise<Suppressing> {
    const bind = [recordingId, positions];
    const rows = await this.db.rows<{ id: string; suppressed: Suppressing }>(WANT_SUPPRESSED, bind);
    for (const { id, suppressed } of rows) if (suppressed === "wanted") await this.later(id);
    return lastOf(rows.map(({ suppressed }) => suppressed));
  }
}

/**
 * Makes the voice of a whole take without the noise around it, as another track of it. Does nothing when that was
 * done, or when nobody wants it. Safe to run again.
 */
export async function suppress(
  { db, storage, log }: { db: Database; storage: Storage; log: Logger },
  takeId: string,
  signal: AbortSignal,
): Promise<void> {
  const wanted = async () => (await db.rows(TO_SUPPRESS, [takeId])).length > 0;
  if (!(await wanted())) return;
  const tracks = await db.rows<SegmentsOfTrack>(TAKE_SEGMENTS, [takeId]);
  const voice = tracks.find(({ name }) => name === "microphone");
  try {
    if (!voice) throw new Error("the take has no voice");
    await inFolder((dir) => make(db, takeId, voice, { storage, dir, signal }));
  } catch (error) {
    // Broken off: it is done again.
    signal.throwIfAborted();
    if (!(await wanted())) return;
    log.warn({ err: error, takeId }, "the noise cannot be taken out of a voice");
    await db.rows(END_SUPPRESSION, [takeId, "failed"]);
  }
}

/** A segment that was made. */
interface Made {
  number: number;
  start: Micros;
  duration: Micros;
  frames: number;
  size: number;
  digest: Buffer;
  key: string;
}

async function make(db: Database, takeId: string, voice: SegmentsOfTrack, work: Work): Promise<void> {
  const { storage, dir, signal } = work;
  const codec = voice.init.codec.startsWith("opus") ? CODECS.opus : CODECS.aac;
  const file = await fileOf(work, voice);
  const measure = new Measure(1);
  const input = inBytes(withoutFirst(suppressed(file, measure, signal), codec.late));
  const form = ["-f", "f32le", "-ar", String(RATE), "-ac", "1", "-i", "-", ...codec.args];
  const segments = ["-hls_time", String(SEGMENT_SECONDS), "-hls_list_size", "0", "-hls_segment_type", "fmp4"];
  const names = ["-hls_fmp4_init_filename", "init.mp4", "-hls_segment_filename", join(dir, "%d.m4s")];
  const args = [...form, "-f", "hls", ...segments, ...names, join(dir, "all.m3u8")];
  await ffmpegFed(args, { limits: LIMITS, signal, input });

  const bytes = await readFile(join(dir, "init.mp4"));
  const [init, initDigest] = [readInit(bytes), digestOf(bytes)];
  const keyOf = (name: string) => `takes/${takeId}/${SUPPRESSED}/${name}`;
  const initKey = keyOf(`init-${shortDigest(initDigest)}.mp4`);
  await storage.put(initKey, bytes);
  const made = (await readdir(dir)).filter((name) => name.endsWith(".m4s"));
  const rows: Made[] = [];
  for (let n = 0; n < made.length; n++) {
    signal.throwIfAborted();
    const segment = Buffer.from(splitTrack(await readFile(join(dir, `${n}.m4s`))).segments[0]!);
    const { start, duration, frames } = readSegment(segment, init);
    const digest = digestOf(segment);
    const key = keyOf(`${n + 1}-${shortDigest(digest)}.m4s`);
    await storage.put(key, segment);
    const [from, to] = [fromTicks(start, init.timescale), fromTicks(start + duration, init.timescale)];
    rows.push({ number: n + 1, start: from, duration: to - from, frames, size: segment.length, digest, key });
  }
  const column = (name: keyof Made) => rows.map((row) => row[name]);
  // With the track or not at all: asked again, it is known to be done.
  await db.rows(KEEP_SUPPRESSED, [
    takeId,
    randomUUID(),
    SUPPRESSED,
    ...[initKey, initDigest, JSON.stringify(init), JSON.stringify({ [SUPPRESSED]: measure.measured })],
    ...[column("number"), column("start"), column("duration"), column("frames"), column("size")],
    ...[column("digest"), column("key")],
  ]);
}

/** The voice of a file without the noise around it, from the beginning of its take on. */
async function* suppressed(file: string, measure: Measure, signal: AbortSignal): AsyncGenerator<Float32Array> {
  const suppression = await openSuppression((await program()).buffer, () => performance.now());
  const heard = (samples: Float32Array<ArrayBuffer>) => {
    measure.push([samples]);
    return samples;
  };
  try {
    for await (const samples of samplesOf(file, { channels: 1, limits: LIMITS, signal })) {
      for (let from = 0; from < samples.length; from += AT_ONCE) {
        yield heard(suppression.sound.push(samples.subarray(from, from + AT_ONCE)));
        await othersTurn();
      }
    }
    yield heard(suppression.sound.flush());
  } finally {
    suppression.close();
  }
}

/** So that each sample is where it was when its encoder has given it back late. */
async function* withoutFirst(sound: AsyncIterable<Float32Array>, count: number): AsyncGenerator<Float32Array> {
  let left = count;
  for await (const samples of sound) {
    const skipped = Math.min(left, samples.length);
    left -= skipped;
    yield samples.subarray(skipped);
  }
}

const program = async () =>
  Uint8Array.from(await readFile(createRequire(import.meta.url).resolve("@jitsi/rnnoise-wasm/dist/rnnoise.wasm")));
