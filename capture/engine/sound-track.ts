import { AudioSample, AudioSampleSource, Quality } from "mediabunny";
import { place } from "#core/audio/continuity";
import type { Micros } from "#core/time/micros";
import { sharedNow, type SourceClock } from "../clock";
import { Segmenter, type PartListener } from "./segmenter";

const RATE = 48_000;
/** Jitter of delivery that is let pass: 40 ms. */
const TOLERANCE = RATE * 0.04;
/** A source that is silent for longer than this is filled up, so that its track never lags. */
const LAG: Micros = 700_000;

/**
 * One sound source as Opus at 48 kHz: no holes, no overlaps, from 0 to the end of the take, whatever the device does.
 */
export class SoundTrack {
  #reader: ReadableStreamDefaultReader<AudioData>;
  #source: AudioSampleSource;
  #segmenter: Segmenter;
  #channels: number;
  #written = 0;
  /** source time minus the device's own time; null until the next block after start or a pause tells it */
  #offset: Micros | null = null;
  #open = false;

  constructor(
    kind: "microphone" | "sound",
    blocks: ReadableStream<AudioData>,
    private readonly clock: SourceClock,
    onPart: PartListener,
    private readonly onError: (error: unknown) => void,
  ) {
    this.#channels = kind === "sound" ? 2 : 1;
    this.#reader = blocks.getReader();
    this.#source = new AudioSampleSource({
      codec: "opus",
      quality: new Quality({ bitrate: kind === "sound" ? 96_000 : 64_000 }),
    });
    this.#segmenter = new Segmenter(this.#source, null, onPart);
  }

  async open(): Promise<void> {
    await this.#segmenter.start();
    this.#open = true;
    void this.#read();
  }

  async #read(): Promise<void> {
    try {
      for (;;) {
        const { value, done } = await this.#reader.read();
        if (done) return;
        this.#take(value);
        value.close();
      }
    } catch (error) {
      if (this.#open) this.onError(error);
    }
  }

  #take(data: AudioData): void {
    if (!this.clock.running || !this.#open) {
      this.#offset = null;
      return;
    }
    const now = this.clock.at(sharedNow());
    this.#offset ??= now - data.duration - data.timestamp;
    const samples = toRate(data, this.#channels);
    const length = samples.length / this.#channels;
    const wanted = Math.round(((data.timestamp + this.#offset) * RATE) / 1e6);
    const { silence, skip } = place(this.#written, wanted, length, TOLERANCE);
    if (silence > 0) this.#write(new Float32Array(silence * this.#channels));
    if (skip < length) this.#write(samples.subarray(skip * this.#channels));
  }

  /** Fills up with silence when the device has nothing to say. */
  tick(now: Micros): void {
    if (this.#open && now - (this.#written / RATE) * 1e6 > LAG) this.#fillTo(now - LAG / 2);
  }

  #fillTo(moment: Micros): void {
    const missing = Math.round((moment * RATE) / 1e6) - this.#written;
    if (missing > 0) this.#write(new Float32Array(missing * this.#channels));
  }

  #write(interleaved: Float32Array): void {
    const sample = new AudioSample({
      data: interleaved as Float32Array<ArrayBuffer>,
      format: "f32",
      numberOfChannels: this.#channels,
      sampleRate: RATE,
      timestamp: this.#written / RATE,
    });
    this.#written += interleaved.length / this.#channels;
    this.#source
      .add(sample)
      .catch(this.onError)
      .finally(() => sample.close());
  }

  async finish(end: Micros): Promise<number> {
    this.#fillTo(end);
    await this.#release();
    return this.#segmenter.finish();
  }

  async abort(): Promise<void> {
    await this.#release();
    await this.#segmenter.abort();
  }

  async #release(): Promise<void> {
    this.#open = false;
    await this.#reader.cancel().catch(() => undefined);
  }
}

/**
 * A block as interleaved samples at 48 kHz: channels mixed or doubled, other rates brought over by linear
 * interpolation.
 */
function toRate(data: AudioData, channels: number): Float32Array {
  const planes = Array.from({ length: data.numberOfChannels }, (_, planeIndex) => {
    const plane = new Float32Array(data.numberOfFrames);
    data.copyTo(plane, { planeIndex, format: "f32-planar" });
    return plane;
  });
  const length = Math.round((data.numberOfFrames * RATE) / data.sampleRate);
  const out = new Float32Array(length * channels);
  for (let i = 0; i < length; i++) {
    const at = (i * data.sampleRate) / RATE;
    const low = Math.min(data.numberOfFrames - 1, Math.floor(at));
    const high = Math.min(data.numberOfFrames - 1, low + 1);
    const value = (plane: Float32Array) => plane[low]! + (plane[high]! - plane[low]!) * (at - low);
    if (channels === 1) out[i] = planes.reduce((sum, plane) => sum + value(plane), 0) / planes.length;
    else for (let c = 0; c < channels; c++) out[i * channels + c] = value(planes[Math.min(c, planes.length - 1)]!);
  }
  return out;
}
