import { follow, isReady, TROUBLE, type Layer, type LayerEvents } from "./layer";

const AGAIN_MS = 3_000;
/** MediaError.MEDIA_ERR_NETWORK (WHATWG HTML, 4.8.11.1). */
const NETWORK_ERROR = 2;

/** A layer whose playlist the browser plays itself. */
export class NativeLayer implements Layer {
  lost = false;
  #unfollow: () => void;
  #timer: ReturnType<typeof setTimeout> | undefined;

  constructor(
    readonly media: HTMLMediaElement,
    private readonly url: string,
    start: number,
    private readonly events: LayerEvents,
  ) {
    this.#unfollow = follow(media, events.onChange);
    media.addEventListener("error", this.#failed);
    this.#load(start);
  }

  /** A playlist without an end has no length yet (its duration is infinite). */
  get growing(): boolean {
    return !Number.isFinite(this.media.duration);
  }

  get time(): number {
    return this.media.currentTime;
  }

  get ready(): boolean {
    return isReady(this.media);
  }

  get end(): number {
    const { duration, seekable } = this.media;
    if (Number.isFinite(duration)) return duration;
    return seekable.length > 0 ? seekable.end(seekable.length - 1) : 0;
  }

  destroy(): void {
    clearTimeout(this.#timer);
    this.#unfollow();
    this.media.removeEventListener("error", this.#failed);
    this.media.removeAttribute("src");
    this.media.load();
  }

  #load(from: number): void {
    this.media.src = this.url;
    if (from > 0) this.media.addEventListener("loadedmetadata", () => (this.media.currentTime = from), { once: true });
    this.media.load();
  }

  #failed = (): void => {
    const { error } = this.media;
    if (error?.code !== NETWORK_ERROR) {
      this.lost = true;
      return this.events.onFailed(TROUBLE.unplayable(error?.message || "no reason given"));
    }
    this.events.onFailed(TROUBLE.offline);
    const { currentTime } = this.media;
    this.#timer = setTimeout(() => this.#load(currentTime), AGAIN_MS);
  };
}
