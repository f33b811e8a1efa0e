import { join } from "node:path";
import { factorOf } from "#core/audio/gain";
import { mixIn, onBothSides, slowlyTo, type Channels } from "#core/audio/mixing";
import { MUSIC_SLOWLY, type Tune } from "#core/audio/music";
import { soundAt } from "#core/audio/sound-at";
import { holdingAt } from "#core/recipe/as-shown";
import { SECOND, type Micros } from "#core/time/micros";
import { inBytes, RATE, samplesOf, type Work } from "../editing/sounds";
import { channelsOf, ffmpegFed, type DecoderLimits } from "../jobs/decoder";
import type { Playable } from "../playback/playback";
import { shownRange, writeRunAfter, type Run } from "./runs";

/** A sound may be hours long. */
const LIMITS: DecoderLimits = { megabytes: 2_048, processorSeconds: 540, wallMs: 580_000, gentle: true };
/** Loudness changes evenly over as many samples as a player has between two looks: 40 ms. */
const BLOCK = RATE / 25;
/** Runs that are not further apart follow each other: half a packet of AAC, as they are placed. In samples */
const JOINED = 512;
/** The tunes, from where the application is started. */
const TUNES_FOLDER = join("public", "music");

export interface Sounded extends Pick<Playable, "layers" | "dress" | "music"> {
  length: Micros;
  /** silence before it, and after it */
  before: Micros;
  after: Micros;
  /** by the names of tracks */
  runs: ReadonlyMap<string, readonly Run[]>;
}

/** Is anything heard? */
export const isHeard = ({ layers, music }: Pick<Sounded, "layers" | "music">): boolean =>
  music !== null || soundsOf(layers).length > 0;

/** The layers that are heard. */
export const soundsOf = (layers: Playable["layers"]) => layers.filter(({ name }) => /^(?:microphone|sound)/.test(name));

/** Writes all that is heard of a recording as one file: AAC, of two channels where there are two. */
export async function writeSound(sounded: Sounded, work: Work, output: string): Promise<void> {
  const channels = widthOf(sounded);
  const form = ["-f", "f32le", "-ar", String(RATE), "-ac", String(channels), "-i", "-"];
  await ffmpegFed([...form, "-c:a", "aac", "-b:a", BITS[channels], "-f", "mp4", output], {
    limits: LIMITS,
    signal: work.signal,
    input: inBytes(mixed(sounded, work)),
  });
}

/** As a recorder encodes them. */
const BITS: Record<Channels, string> = { 1: "96k", 2: "128k" };
const ofRun = (run: Run | undefined): Channels => (run?.init.channels === 2 ? 2 : 1);
const widthOf = ({ layers, music, runs }: Pick<Sounded, "layers" | "music" | "runs">): Channels =>
  music || soundsOf(layers).some(({ name }) => ofRun(runs.get(name)?.[0]) === 2) ? 2 : 1;

/** What is heard, block after block, from the silence before it to the one after it. */
export async function* mixed(sounded: Sounded, work: Work): AsyncGenerator<Float32Array> {
  const { layers, dress, music, length, before, after, runs } = sounded;
  const channels = widthOf(sounded);
  yield* quiet(channels, samplesIn(before));
  const sounds = soundsOf(layers).map(({ name, gain = 0 }) => {
    const theirs = runs.get(name) ?? [];
    const own = ofRun(theirs[0]);
    return { name, gain, samples: new Samples(alongShown(theirs, own, work), own) };
  });
  const tune = music && new Samples(overAndOver(music.tune, work), 2);
  const factorAt = (name: string, gain: number, at: Micros) => soundAt(name, gain, dress, at, { at, length });
  const musicAt = (at: Micros) =>
    factorOf(music!.decibels + (holdingAt(music!.speech, at) ? music!.under : 0)) *
    soundAt("music", 0, { louder: [], fades: dress.fades }, at, { at, length });
  const factors = sounds.map(({ name, gain }) => factorAt(name, gain, 0));
  let musicFactor = music ? musicAt(0) : 0;
  const all = samplesIn(length);
  try {
    for (let done = 0; done < all; done += BLOCK) {
      const count = Math.min(BLOCK, all - done);
      const end = ((done + count) / RATE) * SECOND;
      const heard = { samples: new Float32Array(channels * count), channels };
      for (const [i, { name, gain, samples }] of sounds.entries()) {
        const factor = factorAt(name, gain, end);
        mixIn(heard, await samples.take(count), factors[i]!, factor);
        factors[i] = factor;
      }
      if (tune) {
        const factor = slowlyTo(musicFactor, musicAt(end), count / RATE, MUSIC_SLOWLY);
        mixIn(heard, await tune.take(count), musicFactor, factor);
        musicFactor = factor;
      }
      yield heard.samples;
    }
  } finally {
    await Promise.all([...sounds.map(({ samples }) => samples.close()), tune?.close()]);
  }
  yield* quiet(channels, samplesIn(after));
}

const samplesIn = (time: Micros) => Math.round((time / SECOND) * RATE);

/** A hole may be an hour long: never all of it is in memory. @param count moments; nothing below 0 */
function* quiet(channels: number, count: number): Generator<Float32Array> {
  for (let left = count; left > 0; left -= RATE) yield new Float32Array(channels * Math.min(RATE, left));
}

/** A track as it is shown, from 0 on, with silence where it has nothing. */
async function* alongShown(runs: readonly Run[], channels: Channels, work: Work): AsyncGenerator<Float32Array> {
  let written = 0;
  for (const [i, run] of runs.entries()) {
    const { from, to } = shownRange(run);
    const [begins, ends] = [samplesIn(from), samplesIn(to)];
    const before = i > 0 && begins - written < JOINED ? runs[i - 1]! : null;
    yield* quiet(channels, begins - written);
    written = Math.max(written, begins);
    const file = join(work.dir, `${run.name}.mp4`);
    const earlier = await writeRunAfter(work.storage, before, run, file, work.signal);
    // What lies before it in its file, and before what is written already, as rounding has it.
    let skipped = channels * (samplesIn(earlier) + written - begins);
    // What an init segment says of its channels is not always so; and mono is as loud on both sides as it is.
    const own = (await channelsOf(file, work.signal)) === 1 ? 1 : channels;
    for await (const read of samplesOf(file, { channels: own, limits: LIMITS, signal: work.signal })) {
      const all = own === channels ? read : onBothSides(read);
      const samples = all.subarray(skipped, skipped + channels * Math.max(0, ends - written));
      skipped = Math.max(0, skipped - all.length);
      if (samples.length > 0) yield samples;
      written += samples.length / channels;
      if (written >= ends) break;
    }
    yield* quiet(channels, ends - written);
    written = Math.max(written, ends);
  }
}

async function* overAndOver(tune: Tune, { signal }: Work): AsyncGenerator<Float32Array> {
  const parts: Float32Array[] = [];
  const file = join(TUNES_FOLDER, `${tune}.m4a`);
  for await (const samples of samplesOf(file, { channels: 2, limits: LIMITS, signal })) parts.push(samples);
  for (;;) yield* parts;
}

/** Samples that are taken so many at a time; silence after the last of them. */
class Samples {
  #rest = new Float32Array(0);
  #ended = false;

  constructor(
    private readonly source: AsyncGenerator<Float32Array>,
    private readonly channels: Channels,
  ) {}

  /** @param count moments */
  async take(count: number): Promise<{ samples: Float32Array; channels: Channels }> {
    const out = new Float32Array(this.channels * count);
    for (let filled = 0; filled < out.length;) {
      if (this.#rest.length === 0) {
        const next = this.#ended ? undefined : await this.source.next();
        if (!next || next.done) {
          this.#ended = true;
          break;
        }
        this.#rest = next.value as Float32Array<ArrayBuffer>;
        continue;
      }
      const part = this.#rest.subarray(0, out.length - filled);
      out.set(part, filled);
      filled += part.length;
      this.#rest = this.#rest.subarray(part.length);
    }
    return { samples: out, channels: this.channels };
  }

  async close(): Promise<void> {
    await this.source.return(undefined);
  }
}
