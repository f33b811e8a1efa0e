import Hls, { type HlsConfig } from "hls.js";

export interface LayerEvents {
  /** the element moved, waited, got ready, ended: look at it again */
  onChange: () => void;
  /** it cannot go on by itself */
  onFailed: (message: string) => void;
}

const CONFIG: Partial<HlsConfig> = {
  // The segments are fragmented MP4 and are passed on as they are; a worker for each layer costs more to start than it
  // saves.
  enableWorker: false,
  backBufferLength: 60,
  maxBufferLength: 30,
  // A growing recording is watched from where the viewer is, not from its edge.
  liveSyncDurationCount: 1,
  liveMaxLatencyDurationCount: Infinity,
  maxLiveSyncPlaybackRate: 1,
};
const EVENTS = [
  "timeupdate",
  "waiting",
  "canplay",
  "playing",
  "seeked",
  "ended",
  "durationchange",
  "progress",
  "volumechange",
];

/** One playlist in one media element. */
export class Layer {
  /** false once the playlist has its end: nothing more will come */
  growing = true;
  #hls: Hls;

  constructor(
    readonly media: HTMLMediaElement,
    url: string,
    start: number,
    private readonly events: LayerEvents,
  ) {
    this.#hls = new Hls({ ...CONFIG, startPosition: start });
    this.#hls.on(Hls.Events.LEVEL_UPDATED, (_, { details }) => {
      this.growing = details.live;
      events.onChange();
    });
    this.#hls.on(Hls.Events.ERROR, (_, { fatal, type, details, response }) => {
      if (!fatal) return;
      if (response?.code === 404)
        return events.onFailed(
          "This recording cannot be opened any more. It may have been deleted, or is not shared now.",
        );
      if (type === Hls.ErrorTypes.NETWORK_ERROR) {
        events.onFailed("The connection was lost. Playing goes on when it is back.");
        window.addEventListener("online", this.#again, { once: true });
        setTimeout(this.#again, 3_000);
      } else if (type === Hls.ErrorTypes.MEDIA_ERROR) this.#hls.recoverMediaError();
      else events.onFailed(`This browser cannot play the recording (${details}).`);
    });
    for (const name of EVENTS) media.addEventListener(name, events.onChange);
    this.#hls.attachMedia(media);
    this.#hls.loadSource(url);
  }

  get time(): number {
    return this.media.currentTime;
  }

  /** Can it show the next moment at once? */
  get ready(): boolean {
    return !this.media.seeking && this.media.readyState >= HTMLMediaElement.HAVE_FUTURE_DATA;
  }

  /** Where the layer ends as far as is known, in seconds. */
  get end(): number {
    return Number.isFinite(this.media.duration) ? this.media.duration : 0;
  }

  destroy(): void {
    window.removeEventListener("online", this.#again);
    for (const name of EVENTS) this.media.removeEventListener(name, this.events.onChange);
    this.#hls.destroy();
  }

  #again = () => this.#hls.startLoad();
}
