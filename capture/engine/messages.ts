import type { Remembered } from "#core/audio/voice-memory";
import type { Rect } from "#core/layout/layout";
import type { TrackKind } from "#core/media/tracks";
import type { Micros } from "#core/time/micros";
import type { SoundCodec } from "./codecs";
import type { Glimpse } from "./glimpses";
import type { PaceCounts } from "./pace";

/** How one picture track keeps up. */
export interface TrackCounts extends PaceCounts {
  /** frames that the source delivered; a still screen delivers none */
  read: number;
}

/** A source as it is handed to the worker. */
export type SourceStream = PictureStream | SoundStream;
export interface PictureStream {
  kind: "screen" | "camera";
  frames: ReadableStream<VideoFrame>;
  /** pictures a second of its track, if it is the first of it */
  rate: number;
  /** what of it is recorded, in shares; null for all of it */
  area: Rect | null;
}
export interface SoundStream {
  kind: "microphone" | "sound";
  blocks: ReadableStream<AudioData>;
  /** a factor of its amplitude */
  gain: number;
  /** the noise around the voice is taken out */
  suppresses: boolean;
}

/** What was said and seen last, for whoever looks for the place to go on from. */
export interface Recalled {
  /** null where nobody speaks */
  voice: Remembered | null;
  /** in order; empty where nothing is seen */
  glimpses: readonly Glimpse[];
}

/** Page → worker. `at` is on the shared clock, in ms. */
export type Order =
  /** `suppression`: the program for it, where it is wanted */
  | { type: "open"; sources: SourceStream[]; sound: SoundCodec; suppression: ArrayBuffer | null }
  /** `limit`: the source time at which recording ends by itself; null for never */
  | { type: "start"; at: number; limit: Micros | null }
  | { type: "pause" | "resume" | "stop"; at: number }
  /** the track of this kind goes on with another source */
  | { type: "replace"; source: SourceStream }
  /** the track of this kind is louder or softer from now on; a factor of amplitude */
  | { type: "turn"; kind: SoundStream["kind"]; gain: number }
  /** what was said and seen last is wanted */
  | { type: "recall" }
  | { type: "abort" };

/** Worker → page. */
export type Report =
  /** every picture source has delivered its first frame; recording may start */
  | { type: "ready" }
  /** number 0 is the init segment; `end`: source time up to which the track is in parts */
  | { type: "part"; kind: TrackKind; number: number; bytes: ArrayBuffer; end: Micros }
  /** a second of recording: how each picture track keeps up, and what suppression has taken so far, in ms */
  | { type: "pace"; counts: Partial<Record<TrackKind, TrackCounts>>; suppressionMs: number | null }
  | ({ type: "recalled" } & Recalled)
  /** nothing was recorded from one moment to another, on the shared clock in ms: source time stood still */
  | { type: "slept"; from: number; to: number }
  /** the limit is reached: nothing more is recorded */
  | { type: "limit" }
  | { type: "stopped"; expected: Partial<Record<TrackKind, number>>; duration: Micros }
  | { type: "failed"; message: string };
