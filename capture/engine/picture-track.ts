import { Quality, VideoSample, VideoSampleSource } from "mediabunny";
import { BIT_RATES } from "#core/media/rates";
import { PICTURE_RATE, SEGMENT_FRAMES } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import { chooseCodec } from "./codecs";
import { evenSize, Fitter } from "./fit";
import type { TrackCounts } from "./messages";
import { Pace } from "./pace";
import { Segmenter, type PartListener } from "./segmenter";

/** The moment of a frame of the grid, in µs of source time. */
const momentOf = (index: number): Micros => Math.round((index * 1e6) / PICTURE_RATE);

/**
 * One picture source, encoded once at a steady rate: frame n of the grid lies at n/30 s of source time, in every track
 * alike. A still screen delivers no frames, so the last one is given again, as it is when the source is lost: the track
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
  /** settles with the first frame; rejects if the source ends before */
  readonly first: Promise<void>;

  constructor(
    private readonly kind: "screen" | "camera",
    frames: ReadableStream<VideoFrame>,
    private readonly onError: (error: unknown) => void,
  ) {
    this.#reader = frames.getReader();
    this.first = new Promise((seen, never) => void this.#follow(this.#reader, seen, never));
  }

  /** Goes on with another source. Its frames are made to fit the size that the track began with. */
  replace(frames: ReadableStream<VideoFrame>): void {
    void this.#reader.cancel().catch(() => undefined);
    this.#reader = frames.getReader();
    void this.#follow(this.#reader);
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
      never(new Error(`The ${this.kind} gave no picture.`));
    } catch (error) {
      never(error as Error);
    }
  }

  /** Sets up encoder and writer. Call when the first frame is there. */
  async open(onPart: PartListener): Promise<void> {
    const frame = this.#last!;
    const size = evenSize({ width: frame.displayWidth, height: frame.displayHeight });
    const bitrate = BIT_RATES[this.kind];
    this.#fitter = new Fitter(size);
    this.#source = new VideoSampleSource({
      codec: await chooseCodec({ ...size, bitrate }),
      quality: new Quality({ bitrate }),
      latencyMode: "realtime",
      // Frames go in as they are, and the encoder scales what is larger or smaller. The library's own fitting draws
      // every frame on a canvas, where they gather without end (measured: gigabytes in a minute of 1080p).
      sizeChangeBehavior: "passThrough",
      contentHint: this.kind === "screen" ? "detail" : "motion",
      onEncodedPacket: () => this.#pace.packet(),
    });
    this.#segmenter = new Segmenter(this.#source, PICTURE_RATE, onPart);
    await this.#segmenter.start();
  }

  /** Gives the frame that is due at this moment of source time, if any. */
  tick(now: Micros): void {
    if (!this.#last || this.#ended || !this.#source || !this.#fitter) return;
    const index = Math.floor((now * PICTURE_RATE) / 1e6);
    if (!this.#pace.reach(index)) return;
    const times = { timestamp: momentOf(index), duration: momentOf(index + 1) - momentOf(index) };
    const sample = new VideoSample(this.#fitter.fit(this.#last, times));
    const segment = Math.floor(index / SEGMENT_FRAMES);
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

  async #release(): Promise<void> {
    this.#ended = true;
    await this.#reader.cancel().catch(() => undefined);
    this.#last?.close();
    this.#last = null;
  }
}
