import Hls, { type ErrorData, type HlsConfig } from "hls.js/light";
import { follow, isReady, TROUBLE, type Layer, type LayerEvents } from "./layer";

const CONFIG: Partial<HlsConfig> = {
  // The segments are fragmented MP4 and are passed on as they are; a worker for each layer costs more to start than it
  // saves.
  enableWorker: false,
  backBufferLength: 60,
  maxBufferLength: 30,
  // A still screen has so few bits that else ten minutes of it would be loaded ahead, for each layer, and what lies
  // before and behind every place that was sought would stay.
  maxMaxBufferLength: 60,
  frontBufferFlushThreshold: 60,
  // A growing recording is watched from where the viewer is, not from its edge.
  liveSyncDurationCount: 1,
  liveMaxLatencyDurationCount: Infinity,
  maxLiveSyncPlaybackRate: 1,
};

/** Tries after a lost connection, in ms; the last one over and over. */
const AGAIN_MS = [1_000, 2_000, 4_000, 8_000];
/** So many repairs of the decoder within so long; with more, something is wrong that no repair mends. */
const REPAIRS = { most: 3, withinMs: 30_000 };
/** Answers that stay as they are: it was deleted, or is not shared any more. */
const GONE = new Set([403, 404, 410]);

/** A layer by Media Source, with hls.js. */
export class HlsLayer implements Layer {
  growing = true;
  lost = false;
  #hls: Hls;
  #unfollow: () => void;
  #timer: ReturnType<typeof setTimeout> | undefined;
  #failures = 0;
  #repairs: number[] = [];

  constructor(
    readonly media: HTMLMediaElement,
    private readonly url: string,
    start: number,
    private readonly events: LayerEvents,
    make: (config: Partial<HlsConfig>) => Hls = (config) => new Hls(config),
  ) {
    this.#hls = make({ ...CONFIG, startPosition: start });
    this.#hls.on(Hls.Events.LEVEL_UPDATED, (_, { details }) => {
      this.growing = details.live;
      this.#failures = 0;
      events.onChange();
    });
    this.#hls.on(Hls.Events.ERROR, (_, data) => data.fatal && this.#failed(data));
    window.addEventListener("online", this.#again);
    this.#unfollow = follow(media, events.onChange);
    this.#hls.attachMedia(media);
    this.#hls.loadSource(url);
  }

  get time(): number {
    return this.media.currentTime;
  }

  get ready(): boolean {
    return isReady(this.media);
  }

  get end(): number {
    return Number.isFinite(this.media.duration) ? this.media.duration : 0;
  }

  destroy(): void {
    clearTimeout(this.#timer);
    window.removeEventListener("online", this.#again);
    this.#unfollow();
    this.#hls.destroy();
  }

  #failed({ type, details, response }: ErrorData): void {
    if (this.lost) return;
    if (response && response.code !== undefined && GONE.has(response.code)) return this.events.onFailed(TROUBLE.gone);
    if (type === Hls.ErrorTypes.NETWORK_ERROR) {
      this.events.onFailed(TROUBLE.offline);
      clearTimeout(this.#timer);
      this.#timer = setTimeout(this.#again, AGAIN_MS[Math.min(this.#failures++, AGAIN_MS.length - 1)]);
    } else if (type === Hls.ErrorTypes.MEDIA_ERROR && !this.#soundsNowhere() && this.#mayRepair())
      this.#hls.recoverMediaError();
    else {
      this.lost = true;
      this.events.onFailed(TROUBLE.unplayable(details));
    }
  }

  /** Is there no device that it could sound at? Firefox says so (as it was seen there), and no repair finds one. */
  #soundsNowhere(): boolean {
    return /media\s?sink/i.test(this.media.error?.message ?? "");
  }

  #mayRepair(): boolean {
    const now = performance.now();
    this.#repairs = [...this.#repairs.filter((at) => now - at < REPAIRS.withinMs), now];
    return this.#repairs.length <= REPAIRS.most;
  }

  /** Goes on loading; from the first playlist, where that one never came. */
  #again = (): void => {
    clearTimeout(this.#timer);
    if (this.#hls.levels.length === 0) this.#hls.loadSource(this.url);
    else this.#hls.startLoad();
  };
}
