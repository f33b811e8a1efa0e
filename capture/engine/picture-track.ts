import { Quality, VideoSample, VideoSampleSource } from "mediabunny";
import { SEGMENT_SECONDS } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import { chooseCodec } from "./codecs";
import { Segmenter, type PartListener } from "./segmenter";

/** Every picture lies on this grid: frame n at n/30 s of source time, in every track alike. */
const GRID = 30;
/** Frames the encoder may be behind before some are left out, and before the rate is halved. */
const QUEUE_LIMIT = 6;
const BITRATE = { screen: 2_500_000, camera: 700_000 };

/**
 * One picture source, encoded once at a steady rate. A still screen delivers no frames, so the last one is given again;
 * an encoder that cannot keep up gets every second frame of the grid (15 instead of 30 a second).
 */
export class PictureTrack {
  #last: VideoFrame | null = null;
  #reader: ReadableStreamDefaultReader<VideoFrame>;
  #source: VideoSampleSource | null = null;
  #segmenter: Segmenter | null = null;
  #lastIndex = -1;
  #step = 1;
  #leftOut = 0;
  #waiting = 0;
  #ended = false;
  /** settles with the first frame; rejects if the source ends before */
  readonly first: Promise<void>;

  constructor(
    private readonly kind: "screen" | "camera",
    frames: ReadableStream<VideoFrame>,
    /** keep giving the last frame when the source is lost */
    private readonly hold: boolean,
    private readonly onError: (error: unknown) => void,
  ) {
    this.#reader = frames.getReader();
    this.first = new Promise((seen, never) => void this.#read(seen, never));
  }

  async #read(seen: () => void, never: (reason: Error) => void): Promise<void> {
    try {
      for (;;) {
        const { value, done } = await this.#reader.read();
        if (done) break;
        this.#last?.close();
        this.#last = value;
        seen();
      }
      never(new Error(`The ${this.kind} gave no picture.`));
    } catch (error) {
      never(error as Error);
    }
    // The source is gone: a lead picture stands still, another one ends.
    if (!this.hold) this.#ended = true;
  }

  /** Sets up encoder and writer. Call when the first frame is there. */
  async open(onPart: PartListener): Promise<void> {
    const frame = this.#last!;
    // H.264 wants even sides.
    const width = frame.displayWidth & ~1;
    const height = frame.displayHeight & ~1;
    const bitrate = BITRATE[this.kind];
    this.#source = new VideoSampleSource({
      codec: await chooseCodec({ width, height, bitrate }),
      quality: new Quality({ bitrate }),
      keyFrameInterval: SEGMENT_SECONDS,
      latencyMode: "realtime",
      sizeChangeBehavior: "contain",
      contentHint: this.kind === "screen" ? "detail" : "motion",
      transform: { width, height },
    });
    this.#segmenter = new Segmenter(this.#source, GRID, onPart);
    await this.#segmenter.start();
  }

  /** Gives the frame that is due at this moment of source time, if any. */
  tick(now: Micros): void {
    const index = Math.floor((now * GRID) / 1e6);
    if (index <= this.#lastIndex || index % this.#step !== 0 || !this.#last || this.#ended || !this.#source) return;
    if (this.#waiting >= QUEUE_LIMIT) {
      // Behind: leave this frame out, and halve the rate when that goes on.
      if (++this.#leftOut > GRID) this.#step = 2;
      return;
    }
    this.#lastIndex = index;
    const frame = new VideoFrame(this.#last, {
      timestamp: Math.round((index * 1e6) / GRID),
      duration: Math.round(1e6 / GRID),
    });
    const sample = new VideoSample(frame);
    this.#waiting++;
    this.#source
      .add(sample)
      .catch(this.onError)
      .finally(() => {
        this.#waiting--;
        sample.close();
      });
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
