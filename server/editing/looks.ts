import { appendFile, readFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { setImmediate as othersTurn } from "node:timers/promises";
import type { Logger } from "pino";
import { LevelLine } from "#core/audio/pauses";
import { pictureChanges, SMALL } from "#core/media/picture-changes";
import { readSamples, writeSegment } from "#core/media/samples";
import type { TrackKind } from "#core/media/tracks";
import type { Database } from "../database/connection";
import { channelsOf, ffmpeg } from "../jobs/decoder";
import { inFolder } from "../jobs/work-room";
import type { Storage } from "../storage/storage";
import type { Look, Measured, Pictures } from "./look";
import { fileOf, Measure, RATE, samplesOf, type SegmentsOfTrack, type Work } from "./sounds";
import { lookOf, LOOKS, NOT_LOOKED_OVER, SAVE_LOOKS, TAKE_SEGMENTS, TO_LOOK_OVER } from "./sql";

const PICTURES_DECODER = { megabytes: 2_048, processorSeconds: 120, wallMs: 300_000, gentle: true };
/** So many samples are looked at before others who wait have their turn: about a millisecond of work. */
const AT_ONCE = 4_096;
/** An hour has one for each half minute, and it is looked for changes each five seconds. */
const MOST_PICTURES = 120;
const MOST_LOOKED_AT = 720;
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
    // A face that moves is no other part.
    const changes = seen && picture!.kind === "screen" ? JSON.stringify(seen.changes) : null;
    const columns = [said?.levels ?? null, heard?.levels ?? null, pictures, seen?.strip ?? null, measured, changes];
    await db.rows(SAVE_LOOKS, [takeId, ...columns]);
  });
}

/** How loud a track is along its length, as a `LevelLine` has it from the beginning of its take; and all of it. */
async function soundOf(work: Work, track: SegmentsOfTrack): Promise<{ levels: Buffer; as: Measured }> {
  const file = await fileOf(work, track);
  // An init segment may say two of one (two is the template value of ISO/IEC 14496-12): the decoder knows.
  const channels = Math.min(2, await channelsOf(file, work.signal));
  const line = new LevelLine(RATE);
  const measure = new Measure(channels);
  for await (const all of samplesOf(file, { channels, signal: work.signal })) {
    for (let from = 0; from < all.length; from += AT_ONCE * channels) {
      const { heard, mean } = apart(all.subarray(from, from + AT_ONCE * channels), channels);
      line.push(mean);
      measure.push(heard);
      await othersTurn();
    }
  }
  const levels = line.levels({ from: 0, to: Infinity });
  return { levels: Buffer.from(levels.buffer, levels.byteOffset, levels.byteLength), as: measure.measured };
}

/** Samples of channels that stand side by side, channel by channel; and their mean. */
function apart(samples: Float32Array, channels: number): { heard: Float32Array[]; mean: Float32Array } {
  if (channels === 1) return { heard: [samples], mean: samples };
  const heard = Array.from({ length: channels }, (_, c) =>
    Float32Array.from({ length: samples.length / channels }, (_, i) => samples[i * channels + c]!),
  );
  const mean = heard[0]!.map((sample, i) => (sample + heard[1]![i]!) / 2);
  return { heard, mean };
}

/**
 * Pictures of a track, each the first of a segment, which needs no other picture: some of them small, in one strip; and
 * where they change.
 */
async function picturesOf({ storage, dir, signal }: Work, { init, initKey, segments }: SegmentsOfTrack) {
  const looked = spread(segments, MOST_LOOKED_AT);
  const shown = spread([...looked.keys()], MOST_PICTURES);
  const input = join(dir, "pictures.mp4");
  await writeFile(input, await storage.get(initKey));
  const unit = init.timescale;
  for (const [i, { key }] of looked.entries()) {
    signal.throwIfAborted();
    const [first] = readSamples(await storage.get(key), init).samples;
    const alone = { start: i * unit, samples: [{ ...first!, duration: unit }] };
    await appendFile(input, writeSegment(alone, init));
  }
  const [strip, small] = [join(dir, "pictures.jpg"), join(dir, "pictures.gray")];
  const height = 2 * Math.round((WIDTH * (init.height ?? 9)) / (init.width ?? 16) / 2);
  const rows = Math.ceil(shown.length / COLUMNS);
  // The first of each of as many parts as the strip has pictures, as `spread` has them.
  const part = (n: string) => `floor(${n}*${shown.length}/${looked.length})`;
  const chosen = `select='gt(${part("n")},${part("(n-1)")})'`;
  const graph = [
    "[0:v]split[a][b]",
    `[a]${chosen},scale=${WIDTH}:${height},tile=${COLUMNS}x${rows}[strip]`,
    `[b]scale=${SMALL.width}:${SMALL.height}:flags=area,format=gray[small]`,
  ];
  const passed = ["-fps_mode", "passthrough"];
  const outputs = [
    ...["-map", "[strip]", ...passed, "-frames:v", "1", "-q:v", "5", strip],
    ...["-map", "[small]", ...passed, "-f", "rawvideo", small],
  ];
  await ffmpeg(["-i", input, "-filter_complex", graph.join(";"), ...outputs], PICTURES_DECODER, signal);
  const at = looked.map(({ startUs }) => startUs);
  const pictures: Pictures = { at: shown.map((n) => at[n]!), width: WIDTH, height, columns: COLUMNS };
  return { pictures, strip: await readFile(strip), changes: pictureChanges(await readFile(small), at) };
}

/** At most so many of them, from equal parts of all. */
function spread<T>(all: readonly T[], most: number): T[] {
  const count = Math.min(most, all.length);
  return Array.from({ length: count }, (_, i) => all[Math.ceil((i * all.length) / count)]!);
}

/** What is known of the takes of a recording. Who may have it is checked by the callers. */
export class Looks {
  constructor(
    private readonly db: Database,
    /** asks for a take to be looked over */
    private readonly later: (takeId: string) => Promise<void>,
  ) {}

  /** What is missing of late is asked for: whoever was to ask for it may have died. */
  async goOn(): Promise<void> {
    for (const { id } of await this.db.rows<{ id: string }>(NOT_LOOKED_OVER, [])) await this.later(id);
  }

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
