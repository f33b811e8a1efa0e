import { Quality, VideoSample, VideoSampleSource } from "mediabunny";
import { cropOf } from "#core/layout/area";
import type { Rect } from "#core/layout/layout";
import { pictureBits } from "#core/media/rates";
import { FAST_RATE } from "#core/media/quality";
import { SEGMENT_SECONDS } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import { chooseCodec } from "./codecs";
import { Fitter } from "./fit";
import type { PictureStream, TrackCounts } from "./messages";
import { Pace } from "./pace";
import { Segmenter, type PartListener } from "./segmenter";

/**
 * One picture source, or an area of it, encoded once at a steady rate: frame n of the grid lies at n / rate s of source
 * time. A still screen delivers no frames, so the last one is given again, as it is when the source is lost: the track
 * has no hole whatever comes next. What an encoder cannot take at once is left out.
 */
export class PictureTrack {
  #last: VideoFrame | null = null;
  #reader: ReadableStreamDefaultReader<VideoFrame>;
  #source: VideoSampleSource | null = null;
  #segmenter: Segmenter | null = null;
  #fitter: Fitter | null = null;
  #pace = new Pace();
  #read = 0;
  /** the segment of the last frame that was given */
  #segment = -1;
  #ended = false;
  #area: Rect | null;
  readonly #kind: PictureStream["kind"];
  readonly #rate: number;
  /** settles with the first frame; rejects if the source ends before */
  readonly first: Promise<void>;

  constructor(
    { kind, frames, rate, area }: PictureStream,
    private readonly onError: (error: unknown) => void,
  ) {
    this.#kind = kind;
    this.#rate = rate;
    this.#area = area;
    this.#reader = frames.getReader();
    this.first = new Promise((seen, never) => void this.#follow(this.#reader, seen, never));
  }

  /** Goes on with another source. Its frames are made to fit the size that the track began with. */
  replace({ frames, area }: PictureStream): void {
    this.#area = area;
    void this.#reader.cancel().catch(() => undefined);
    this.#reader = frames.getReader();
    void this.#follow(this.#reader);
  }

  /** The picture of now; null before the first one. It stays this track's. */
  get frame(): VideoFrame | null {
    return this.#last;
  }

  get counts(): TrackCounts {
    return { ...this.#pace.counts, read: this.#read };
  }

  async #follow(
    reader: ReadableStreamDefaultReader<VideoFrame>,
    seen: () => void = () => undefined,
    never: (reason: Error) => void = () => undefined,
  ): Promise<void> {
    try {
      for (;;) {
        const { value, done } = await reader.read();
        if (done) break;
        // A frame that came after the end, or from a source before, belongs to nobody: an open frame holds one of the
        // source's few buffers.
        if (this.#ended || reader !== this.#reader) {
          value.close();
          continue;
        }
        this.#last?.close();
        this.#last = value;
        this.#read++;
        seen();
      }
      never(new Error(`The ${this.#kind} gave no picture.`));
    } catch (error) {
      never(error as Error);
    }
  }

  /** Sets up encoder and writer. Call when the first frame is there. */
  async open(onPart: PartListener): Promise<void> {
    const frame = this.#last!;
    const { width, height } = cropOf({ width: frame.displayWidth, height: frame.displayHeight }, this.#area);
    const size = { width, height };
    const bitrate = pictureBits(this.#kind, size, this.#rate);
    this.#fitter = new Fitter(size);
    this.#source = new VideoSampleSource({
      codec: await chooseCodec({ ...size, bitrate }),
      quality: new Quality({ bitrate }),
      latencyMode: "realtime",
      // Frames go in as they are, and the encoder scales what is larger or smaller. The library's own fitting draws
      // every frame on a canvas, where they gather without end (measured: gigabytes in a minute of 1080p).
      sizeChangeBehavior: "passThrough",
      contentHint: this.#kind === "screen" && this.#rate < FAST_RATE ? "detail" : "motion",
      onEncodedPacket: () => this.#pace.packet(),
    });
    this.#segmenter = new Segmenter(this.#source, this.#rate, onPart);
    await this.#segmenter.start();
  }

  /** Gives the frame that is due at this moment of source time, if any. */
  tick(now: Micros): void {
    if (!this.#last || this.#ended || !this.#source || !this.#fitter) return;
    const index = Math.floor((now * this.#rate) / 1e6);
    if (!this.#pace.reach(index)) return;
    const timestamp = this.#momentOf(index);
    const times = { timestamp, duration: this.#momentOf(index + 1) - timestamp };
    const sample = new VideoSample(this.#fitter.fit(this.#last, this.#area, times));
    const segment = Math.floor(index / (this.#rate * SEGMENT_SECONDS));
    const keyFrame = segment !== this.#segment;
    this.#segment = segment;
    this.#source
      .add(sample, { keyFrame })
      .catch(this.onError)
      .finally(() => sample.close());
  }

  async finish(): Promise<number> {
    await this.#release();
    return this.#segmenter ? this.#segmenter.finish() : 0;
  }

  async abort(): Promise<void> {
    await this.#release();
    await this.#segmenter?.abort();
  }

  /** The moment of a frame of the grid, in µs of source time. */
  #momentOf(index: number): Micros {
    return Math.round((index * 1e6) / this.#rate);
  }

  async #release(): Promise<void> {
    this.#ended = true;
    await this.#reader.cancel().catch(() => undefined);
    this.#last?.close();
    this.#last = null;
  }
}
