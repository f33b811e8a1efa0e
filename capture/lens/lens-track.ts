import type { Lens } from "#core/layout/lens";
import { Watchable } from "#core/state/watchable";
import type { LensOrder, LensReport } from "./messages";

export interface LensState {
  /** the share of one processor that it takes; null while not known */
  cost: number | null;
  /** whether the person is told from what is behind them, where that is wanted */
  person: "not yet" | "yes" | "no";
}

/** Chromium's way of making a track of frames (MediaStreamTrack Insertable Streams, an early draft). */
type Generator = MediaStreamTrack & { writable: WritableStream<VideoFrame> };
declare const MediaStreamTrackGenerator: undefined | (new (init: { kind: "video" }) => Generator);

/** Whether this browser can put anything between a camera and what is recorded. */
export const canUseLens = (): boolean => typeof MediaStreamTrackGenerator !== "undefined";

const known = new WeakMap<MediaStreamTrack, LensTrack>();

/**
 * A camera seen through a lens: a track of its own that lives and ends with the camera's, and can be tuned at any
 * moment, also in the middle of a take. It is made in a worker; the frames of a clear lens go through untouched.
 */
export class LensTrack extends Watchable<LensState> {
  #worker = new Worker(new URL("./lens.worker.ts", import.meta.url), { type: "module" });
  readonly track: MediaStreamTrack;

  constructor(
    private readonly camera: MediaStreamTrack,
    lens: Lens,
  ) {
    super({ cost: null, person: "not yet" });
    const generator = new MediaStreamTrackGenerator!({ kind: "video" });
    this.track = this.#asCamera(generator);
    const { readable: frames } = new MediaStreamTrackProcessor({ track: camera as MediaStreamVideoTrack });
    const { writable: out } = generator;
    this.#worker.onmessage = ({ data }: MessageEvent<LensReport>) => {
      if (data.type === "cost") this.set({ cost: data.share });
      else this.set({ person: data.person });
    };
    this.#worker.onerror = () => this.set({ person: "no" });
    this.#order({ type: "open", frames, out, lens }, [frames, out]);
    known.set(camera, this).set(this.track, this);
  }

  /** The lens before a camera, or that a track is seen through. */
  static of(track: MediaStreamTrack | null): LensTrack | null {
    return (track && known.get(track)) ?? null;
  }

  tune(lens: Lens): void {
    this.#order({ type: "tune", lens });
  }

  #order(order: LensOrder, transfer: Transferable[] = []): void {
    this.#worker.postMessage(order, transfer);
  }

  /** Whoever has the track need not know that there is a camera behind it. */
  #asCamera(track: MediaStreamTrack): MediaStreamTrack {
    const { camera } = this;
    const stop = track.stop.bind(track);
    return Object.defineProperties(track, {
      label: { get: () => camera.label },
      getSettings: { value: () => camera.getSettings() },
      applyConstraints: { value: (wanted: MediaTrackConstraints) => camera.applyConstraints(wanted) },
      stop: {
        value: () => {
          stop();
          // Its worker ends with its frames.
          camera.stop();
        },
      },
    });
  }
}
