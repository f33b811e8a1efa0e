import { lightOf, type LightFigures } from "#core/check/light";

/** What is seen of a camera before recording. */
export interface PictureFigures {
  light: LightFigures | null;
  /** pictures a second that come; null while not known, or where the browser does not count them */
  rate: number | null;
}

/** Small enough to cost nothing, large enough to tell light from dark. */
const SIZE = { width: 48, height: 36 };
const EVERY_MS = 1_000;
/** A camera that has just opened finds its own light first. */
const SETTLED = 2;

/** Counted by the browser (Media Capture Extensions, `MediaStreamTrack.stats`). */
type Counted = MediaStreamTrack & { stats?: { deliveredFrames?: number } };

/** Looks at a camera once a second, without changing it. Nothing of it is looked at while recording. */
export class PictureCheck {
  /** where its picture can be taken from. One for all: each more of them holds some of a camera's few buffers */
  readonly video = Object.assign(document.createElement("video"), { muted: true, playsInline: true });
  #canvas = new OffscreenCanvas(SIZE.width, SIZE.height);
  #timer: ReturnType<typeof setInterval>;
  #before: { at: number; frames: number } | null = null;
  #looks = 0;

  constructor(
    private readonly track: MediaStreamTrack,
    private readonly onFigures: (figures: PictureFigures) => void,
  ) {
    this.video.srcObject = new MediaStream([track]);
    // Ended before it played: nothing is seen, which is what is told.
    this.video.play().catch(() => undefined);
    this.#timer = setInterval(() => this.#look(), EVERY_MS);
  }

  close(): void {
    clearInterval(this.#timer);
    this.video.srcObject = null;
  }

  #look(): void {
    const rate = this.#rate(performance.now());
    if (++this.#looks >= SETTLED) this.onFigures({ light: this.#light(), rate });
  }

  #rate(at: number): number | null {
    const frames = (this.track as Counted).stats?.deliveredFrames;
    if (frames === undefined) return null;
    const before = this.#before;
    this.#before = { at, frames };
    return before && (1000 * (frames - before.frames)) / (at - before.at);
  }

  #light(): LightFigures | null {
    if (this.video.readyState < HTMLMediaElement.HAVE_CURRENT_DATA) return null;
    const context = this.#canvas.getContext("2d", { alpha: false, willReadFrequently: true })!;
    context.drawImage(this.video, 0, 0, SIZE.width, SIZE.height);
    return lightOf(context.getImageData(0, 0, SIZE.width, SIZE.height).data);
  }
}
