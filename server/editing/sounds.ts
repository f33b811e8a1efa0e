import { appendFile, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { LoudnessMeter, TruePeak } from "#core/audio/loudness";
import type { InitInfo } from "#core/media/init";
import type { TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import { ffmpegOut, type DecoderLimits } from "../jobs/decoder";
import type { Storage } from "../storage/storage";
import type { Measured } from "./look";

/** A track of a whole take, as it was recorded. */
export interface SegmentsOfTrack {
  name: string;
  kind: TrackKind;
  init: InitInfo;
  initKey: string;
  segments: { key: string; startUs: Micros }[];
}

/** What work on a track needs: a folder of its own, and when it is to end. */
export interface Work {
  storage: Storage;
  dir: string;
  signal: AbortSignal;
}

/** A sound may be hours long, and nobody waits to see how loud it is. */
const SOUND_LIMITS: DecoderLimits = { megabytes: 2_048, processorSeconds: 240, wallMs: 600_000, gentle: true };
/** Sounds are worked on at this rate, which is also the one at which loudness is measured (BS.1770-4). Hz */
export const RATE = 48_000;

/** Writes a track as one file. @returns where that is */
export async function fileOf({ storage, dir, signal }: Work, { initKey, segments }: SegmentsOfTrack): Promise<string> {
  const file = join(dir, "sound.mp4");
  await writeFile(file, await storage.get(initKey));
  // One after the other: an hour is never in memory as a whole.
  for (const { key } of segments) {
    signal.throwIfAborted();
    await appendFile(file, await storage.get(key));
  }
  return file;
}

/**
 * The samples of a sound from the beginning of its file on, side by side, as they come. What is missing in between is
 * silence.
 */
export async function* samplesOf(
  file: string,
  { channels, limits = SOUND_LIMITS, signal }: { channels: number; limits?: DecoderLimits; signal: AbortSignal },
): AsyncGenerator<Float32Array> {
  const form = ["-ac", String(channels), "-ar", String(RATE), "-f", "f32le", "-"];
  const whole = ["-map", "0:a:0", "-af", "aresample=async=1:first_pts=0"];
  const frame = 4 * channels;
  let rest = Buffer.alloc(0);
  for await (const chunk of ffmpegOut(["-i", file, ...whole, ...form], { limits, signal })) {
    const bytes = Buffer.concat([rest, chunk]);
    const length = bytes.length - (bytes.length % frame);
    // A buffer of its own begins where a number may; the computer's order of bytes is ffmpeg's `le`.
    yield new Float32Array(new Uint8Array(bytes.subarray(0, length)).buffer);
    rest = bytes.subarray(length);
  }
}

/** Samples as a program reads them. */
export async function* inBytes(sound: AsyncIterable<Float32Array>): AsyncGenerator<Uint8Array> {
  for await (const { buffer, byteOffset, byteLength } of sound) yield new Uint8Array(buffer, byteOffset, byteLength);
}

/** How loud a sound is in all, as its samples come. */
export class Measure {
  readonly #meter: LoudnessMeter;
  readonly #peaks: TruePeak[];

  constructor(channels: number) {
    this.#meter = new LoudnessMeter(RATE, channels);
    this.#peaks = Array.from({ length: channels }, () => new TruePeak());
  }

  /** @param heard the same length of each channel */
  push(heard: Float32Array[]): void {
    this.#meter.push(heard);
    this.#peaks.forEach((peak, c) => peak.push(heard[c]!));
  }

  get measured(): Measured {
    const peak = Math.max(...this.#peaks.map(({ dbtp }) => dbtp));
    return { loudness: finite(this.#meter.integrated), peak: finite(peak) };
  }
}

/** Silence has no level; JSON has no infinity. */
const finite = (decibels: number) => (Number.isFinite(decibels) ? decibels : null);
