import suppressionAddress from "@jitsi/rnnoise-wasm/dist/rnnoise.wasm?url";
import type { Rect } from "#core/layout/layout";
import { rateOf, type Quality } from "#core/media/quality";
import { isPicture, type TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import { sharedNow } from "../clock";
import { chooseSoundCodec } from "./codecs";
import type { Order, Recalled, Report, SoundStream, SourceStream, TrackCounts } from "./messages";

/**
 * Blocks of sound (10 ms each, as a rule) that wait for a worker that is busy: a second. The browser's own measure is
 * a tenth of that, and what it has no room for it throws away: holes in the voice (measured on two busy cores).
 */
const BLOCKS = 100;

/** A worker that ends gives parts as it does so. Silent for longer than this, it has broken. */
const SILENT_MS = 15_000;

export type Sources = Partial<Record<TrackKind, MediaStreamTrack>>;

export type Gains = Record<SoundStream["kind"], number>;

/** How the sources are recorded. */
export interface TrackSettings {
  quality: Quality;
  /** factors of amplitude */
  gains: Gains;
  /** the noise around the voice is taken out */
  suppresses: boolean;
  /** of the screen, in shares; null for all of it */
  area: Rect | null;
}

export interface Stopped {
  expected: Partial<Record<TrackKind, number>>;
  duration: Micros;
}

/** What a recorder needs of its engine. */
export type EngineLike = Pick<
  Engine,
  "ready" | "start" | "pause" | "resume" | "replace" | "turn" | "recall" | "stop" | "abort"
>;

/** What an engine tells. */
export interface EngineListener {
  part: (kind: TrackKind, number: number, bytes: ArrayBuffer, end: Micros) => void;
  failed: (error: Error) => void;
  pace: (counts: Partial<Record<TrackKind, TrackCounts>>, suppressionMs: number | null) => void;
  /** recording has ended by itself, at its limit; `stop` gives what came of it */
  limit: () => void;
  /** source time stood still from one moment of the shared clock to another, in ms, as when the computer slept */
  slept: (from: number, to: number) => void;
}

/** The page's side of the engine worker. */
export class Engine {
  #worker = new Worker(new URL("./engine.worker.ts", import.meta.url), { type: "module" });
  #failed: (error: Error) => void = () => undefined;
  #ready = Promise.withResolvers<void>();
  #stopped = Promise.withResolvers<Stopped>();
  #recalled: PromiseWithResolvers<Recalled> | null = null;
  /** when the worker has said something last, on the shared clock */
  #heard = 0;

  constructor(
    sources: Sources,
    private readonly settings: TrackSettings,
    told: EngineListener,
  ) {
    this.#failed = (error) => {
      this.#ready.reject(error);
      this.#stopped.reject(error);
      this.#recalled?.reject(error);
      told.failed(error);
    };
    // Both are watched by whoever asks for them; nobody may be asking yet.
    this.#ready.promise.catch(() => undefined);
    this.#stopped.promise.catch(() => undefined);
    this.#worker.onmessage = ({ data }: MessageEvent<Report>) => {
      this.#heard = sharedNow();
      if (data.type === "ready") this.#ready.resolve();
      if (data.type === "part") told.part(data.kind, data.number, data.bytes, data.end);
      if (data.type === "pace") told.pace(data.counts, data.suppressionMs);
      if (data.type === "limit") told.limit();
      if (data.type === "slept") told.slept(data.from, data.to);
      if (data.type === "recalled") this.#recalled?.resolve(data);
      if (data.type === "stopped") this.#stopped.resolve(data);
      if (data.type === "failed") this.#failed(new Error(data.message));
    };
    this.#worker.onerror = (event) => this.#failed(new Error(event.message || "The recording engine could not start."));
    const streams = Object.entries(sources).map(([kind, track]) => toStream(kind as TrackKind, track, this.settings));
    void this.#open(streams).catch(this.#failed);
  }

  async #open(sources: SourceStream[]): Promise<void> {
    const suppresses = this.settings.suppresses && sources.some(({ kind }) => kind === "microphone");
    // The worker asks for nothing itself: it is given what it needs.
    const suppression = suppresses ? await programOf(suppressionAddress) : null;
    const sound = chooseSoundCodec(navigator.hardwareConcurrency);
    this.#order({ type: "open", sources, sound, suppression }, sources.map(transferOf));
  }

  /** Settles when every source has delivered something. */
  get ready(): Promise<void> {
    return this.#ready.promise;
  }

  /**
   * @param limit the source time at which recording ends by itself; null for never
   * @returns the moment source time starts, on the shared clock
   */
  start(limit: Micros | null): number {
    const at = sharedNow();
    this.#order({ type: "start", at, limit });
    return at;
  }

  pause(): number {
    return this.#orderNow("pause");
  }

  resume(): number {
    return this.#orderNow("resume");
  }

  /** The track of this kind is louder or softer from now on. @param gain a factor of amplitude; 0 is silence */
  turn(kind: SoundStream["kind"], gain: number): void {
    this.settings.gains[kind] = gain;
    this.#order({ type: "turn", kind, gain });
  }

  /** The track of this kind, which there is, goes on with another source, all of which is seen. */
  replace(kind: TrackKind, track: MediaStreamTrack): void {
    const source = toStream(kind, track, { ...this.settings, area: null });
    this.#order({ type: "replace", source }, [transferOf(source)]);
  }

  /** What was said and seen in the last minutes. */
  async recall(): Promise<Recalled> {
    this.#recalled ??= Promise.withResolvers<Recalled>();
    const recalled = this.#recalled.promise;
    this.#order({ type: "recall" });
    return recalled.finally(() => (this.#recalled = null));
  }

  /** @throws where the worker says nothing more: what it has given is all that there is */
  async stop(): Promise<Stopped> {
    this.#heard = this.#orderNow("stop");
    const watch = setInterval(() => {
      if (sharedNow() - this.#heard > SILENT_MS) this.#failed(new Error("The recording engine did not end."));
    }, 1_000);
    try {
      return await this.#stopped.promise;
    } finally {
      clearInterval(watch);
      this.#worker.terminate();
    }
  }

  abort(): void {
    this.#order({ type: "abort" });
    this.#worker.terminate();
  }

  #orderNow(type: "pause" | "resume" | "stop"): number {
    const at = sharedNow();
    this.#order({ type, at });
    return at;
  }

  #order(order: Order, transfer: Transferable[] = []): void {
    this.#worker.postMessage(order, transfer);
  }
}

async function programOf(address: string): Promise<ArrayBuffer> {
  const answer = await fetch(address).catch(() => null);
  if (!answer?.ok)
    throw new Error(
      "What takes the noise out of a voice could not be loaded. Check the connection, or record without it.",
    );
  return answer.arrayBuffer();
}

function toStream(kind: TrackKind, track: MediaStreamTrack, settings: TrackSettings): SourceStream {
  const { quality, area, gains, suppresses } = settings;
  if (isPicture(kind))
    return {
      kind,
      frames: new MediaStreamTrackProcessor({ track: track as MediaStreamVideoTrack }).readable,
      rate: rateOf(kind, quality),
      area: kind === "screen" ? area : null,
    };
  return {
    kind,
    blocks: new MediaStreamTrackProcessor({ track: track as MediaStreamAudioTrack, maxBufferSize: BLOCKS }).readable,
    gain: gains[kind],
    suppresses: suppresses && kind === "microphone",
  };
}

const transferOf = (source: SourceStream) =>
  ("frames" in source ? source.frames : source.blocks) as unknown as Transferable;
