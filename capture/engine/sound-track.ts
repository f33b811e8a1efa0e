import { AudioSample } from "mediabunny";
import { ArrivalOffset } from "#core/audio/arrival";
import { place } from "#core/audio/continuity";
import { amplify } from "#core/audio/gain";
import { Interleaver } from "#core/audio/interleave";
import { VoiceMemory, type Remembered } from "#core/audio/voice-memory";
import type { Micros } from "#core/time/micros";
import { sharedNow, type SourceClock } from "../clock";
import { openSuppression, type Suppression } from "#core/audio/suppression";
import type { SoundCodec } from "./codecs";
import type { SoundStream } from "./messages";
import { Segmenter, type PartListener } from "./segmenter";
import { openSoundEncoder, type SoundEncoder } from "./sound-encoder";

const RATE = 48_000;
/** So much of a voice is remembered, to go back in: five minutes, 10 MB. */
export const REMEMBERED_SECONDS = 300;
/** Jitter of delivery that is let pass: 40 ms. */
const TOLERANCE = RATE * 0.04;
/**
 * A source that gives nothing for longer than this is filled up, so that its track never lags. A busy computer hands
 * over a whole second at once, and what comes after its place was filled is lost.
 */
const LAG: Micros = 1_500_000;
/** How long blocks are held after a start or a pause, until it is known where the device's time lies in ours. */
const SETTLING: Micros = 250_000;

/** A block that is held: where its device says that it begins, and its samples. */
interface Block {
  timestamp: Micros;
  samples: Float32Array<ArrayBuffer>;
}

/** One sound source at 48 kHz: no holes, no overlaps, from 0 to the end of the take, whatever the device does. */
export class SoundTrack {
  #reader: ReadableStreamDefaultReader<AudioData>;
  #encoder: SoundEncoder | null = null;
  #segmenter: Segmenter | null = null;
  #channels: number;
  #interleaver: Interleaver;
  #written = 0;
  #offset = new ArrivalOffset();
  #known: Micros = 0;
  /** blocks since start or pause, while it is still being learnt where they belong; null once that is known */
  #held: Block[] | null = [];
  #heldSince: Micros | null = null;
  #open = false;
  #memory: VoiceMemory | null = null;
  #suppression: Suppression | null = null;
  /** samples that were given to the encoder: with suppression, a little later than they are written */
  #encoded = 0;
  #gain: number;
  /** of the block before */
  #gainBefore: number;

  constructor(
    private readonly source: SoundStream,
    private readonly codec: SoundCodec,
    private readonly clock: SourceClock,
    private readonly onPart: PartListener,
    private readonly onError: (error: unknown) => void,
  ) {
    this.#channels = source.kind === "sound" ? 2 : 1;
    this.#interleaver = new Interleaver(RATE, this.#channels);
    if (source.kind === "microphone") this.#memory = new VoiceMemory(REMEMBERED_SECONDS);
    this.#gain = this.#gainBefore = source.gain;
    this.#reader = source.blocks.getReader();
  }

  /** @param suppression the program that takes out noise, where that is wanted */
  async open(suppression: ArrayBuffer | null): Promise<void> {
    if (this.source.suppresses && suppression)
      this.#suppression = await openSuppression(suppression, () => performance.now());
    this.#encoder = await openSoundEncoder(this.source.kind, this.codec);
    this.#segmenter = new Segmenter(this.#encoder.packets, null, this.onPart);
    await this.#segmenter.start();
    await this.#encoder.start();
    this.#open = true;
    void this.#read(this.#reader);
  }

  /** Goes on with another source, whose own clock is learnt anew. Until it delivers there is silence. */
  replace({ blocks, gain }: SoundStream): void {
    this.#gain = gain;
    void this.#reader.cancel().catch(() => undefined);
    this.#reader = blocks.getReader();
    this.settleAnew();
    void this.#read(this.#reader);
  }

  /** A factor of amplitude, from the next block on; 0 is silence. */
  turn(gain: number): void {
    this.#gain = gain;
  }

  async #read(reader: ReadableStreamDefaultReader<AudioData>): Promise<void> {
    try {
      for (;;) {
        const { value, done } = await reader.read();
        if (done) return;
        try {
          if (reader === this.#reader) this.#take(value);
        } finally {
          value.close();
        }
      }
    } catch (error) {
      if (this.#open) this.onError(error);
    }
  }

  #take(data: AudioData): void {
    if (!this.clock.running || !this.#open) {
      this.settleAnew();
      return;
    }
    const now = this.clock.at(sharedNow());
    const end = data.timestamp + data.duration;
    // Nobody knows where those that are held belong; they are the few that came before the device told its time.
    if (this.#held && this.#offset.stepsBack(end)) this.#held = [];
    this.#known = this.#offset.next(now, end);
    const block = { timestamp: data.timestamp, samples: this.#interleaver.next(planesOf(data), data.sampleRate) };
    amplify(block.samples, this.#gain, this.#gainBefore);
    this.#gainBefore = this.#gain;
    if (!this.#held) return this.#put(block);
    this.#heldSince ??= now;
    this.#held.push(block);
    if (now - this.#heldSince >= SETTLING) this.#settle();
  }

  /** Fills up with silence when the device has nothing to say. */
  tick(now: Micros): void {
    if (this.#open && now - (this.#written / RATE) * 1e6 > LAG) this.#fillTo(now - LAG / 2);
  }

  #settle(): void {
    const held = this.#held ?? [];
    this.#held = null;
    held.forEach((block) => this.#put(block));
  }

  /** What comes next is placed by where the device's time lies then. */
  settleAnew(): void {
    this.#interleaver.forget();
    if (this.#held?.length === 0) return;
    // What was said just before the pause belongs before it.
    this.#settle();
    this.#offset.forget();
    this.#held = [];
    this.#heldSince = null;
  }

  #put({ timestamp, samples }: Block): void {
    const length = samples.length / this.#channels;
    const wanted = Math.round(((timestamp + this.#known) * RATE) / 1e6);
    const { silence, skip } = place(this.#written, wanted, length, TOLERANCE);
    this.#silence(silence);
    if (skip < length) this.#write(samples.subarray(skip * this.#channels));
  }

  #fillTo(moment: Micros): void {
    this.#silence(Math.round((moment * RATE) / 1e6) - this.#written);
  }

  /** Never all of it at once: an hour would take a gigabyte. @param samples none where below 0 */
  #silence(samples: number): void {
    for (let left = samples; left > 0; left -= RATE)
      this.#write(new Float32Array(Math.min(RATE, left) * this.#channels));
  }

  /** Processor time that suppression has taken, in ms; null where there is none. */
  get suppressionMs(): number | null {
    return this.#suppression?.spentMs() ?? null;
  }

  #write(interleaved: Float32Array<ArrayBuffer>): void {
    this.#written += interleaved.length / this.#channels;
    this.#encode(this.#suppression ? this.#suppression.sound.push(interleaved) : interleaved);
  }

  #encode(interleaved: Float32Array<ArrayBuffer>): void {
    if (interleaved.length === 0) return;
    this.#memory?.push(interleaved);
    const sample = new AudioSample({
      data: interleaved,
      format: "f32",
      numberOfChannels: this.#channels,
      sampleRate: RATE,
      timestamp: this.#encoded / RATE,
    });
    this.#encoded += interleaved.length / this.#channels;
    this.#encoder!.add(sample)
      .catch(this.onError)
      .finally(() => sample.close());
  }

  /** What was said last; null for what is no voice. */
  remembered(): Remembered | null {
    return this.#memory?.of({ from: 0, to: Infinity }) ?? null;
  }

  async finish(end: Micros): Promise<number> {
    this.#settle();
    this.#fillTo(end);
    if (this.#suppression) this.#encode(this.#suppression.sound.flush());
    await this.#release();
    await this.#encoder!.finish();
    return this.#segmenter!.finish();
  }

  async abort(): Promise<void> {
    await this.#release();
    await this.#encoder?.abort();
    await this.#segmenter?.abort();
  }

  async #release(): Promise<void> {
    this.#open = false;
    await this.#reader.cancel().catch(() => undefined);
    this.#suppression?.close();
    this.#suppression = null;
  }
}

const planesOf = (data: AudioData): Float32Array[] =>
  Array.from({ length: data.numberOfChannels }, (_, planeIndex) => {
    const plane = new Float32Array(data.numberOfFrames);
    data.copyTo(plane, { planeIndex, format: "f32-planar" });
    return plane;
  });
