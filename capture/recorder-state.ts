import type { FirstAudience } from "#core/access/access";
import type { NewAsk } from "#core/answers/kinds";
import type { Arrangement, Rect, Size } from "#core/layout/layout";
import type { Surface, TakeSource, TrackKind } from "#core/media/tracks";
import type { About } from "#core/title/about";
import type { Micros } from "#core/time/micros";
import type { NewTake } from "./attempt";
import type { openScreen } from "./devices";
import type { Engine, EngineLike, Gains } from "./engine/engine";
import type { TrackCounts } from "./engine/messages";
import type { Outbox } from "./outbox/outbox";
import type { KeptTake } from "./outbox/store";
import type { wakeAt } from "./wake";

/** Never two of these at once, and each is told in words, shape, page title and sound. */
export type Phase =
  "ready" | "asking" | "rehearsing" | "waiting" | "counting" | "recording" | "paused" | "saving" | "saved";

export interface Shared {
  /** null when the browser does not tell */
  surface: Surface | null;
  /** its sound is recorded with it */
  withSound: boolean;
  /** in its own pixels; null when the browser does not tell */
  size: Size | null;
  /** what of it is recorded, in shares; null for all of it */
  area: Rect | null;
  /** for showing it */
  screen: MediaStreamTrack;
}

export interface RecorderState {
  phase: Phase;
  /** when it starts by itself, while that is waited for; ms since 1970 */
  startsAt: number | null;
  /** when it ends by itself */
  limit: Limit | null;
  /** it did */
  limited: boolean;
  /** the seconds to go while counting in; 0 when that is over and a source or the server is still waited for */
  count: number;
  /** what is shown, chosen before or while recording */
  shared: Shared | null;
  arrangement: Arrangement;
  take: KeptTake | null;
  /** sounds of which nothing is heard, because the person wants it so */
  muted: readonly SoundKind[];
  /** what was lost while recording went on */
  lost: Device[];
  /** the share of one processor that taking out noise took, the last time that it was done; null before */
  suppression: number | null;
  /** the computer does not keep up: every second picture is recorded for now */
  slowed: boolean;
  /** what the last take came to; `most`: what a minute of it could have taken, in bytes */
  made: { source: TakeSource; bytes: number; seconds: number; most: number } | null;
  /** why the last attempt did not become a recording */
  problem: string | null;
}

export type Device = "camera" | "microphone";
export type SoundKind = keyof Gains;

/** The source time at which a take ends by itself, and whose wish that is. */
export interface Limit {
  at: Micros;
  why: "chosen" | "workspace";
}

export interface Choice extends About {
  source: TakeSource;
  /** the recording of which it is another take; null for a new one */
  takeOf: string | null;
  title: string;
  audience: FirstAudience;
  /** the folder in which it is to lie; null for none */
  folder: string | null;
  /** what is asked of those who watch */
  ask: NewAsk;
  /** whose take it is, and in which workspace; null where this computer does not know */
  person: { id: string; workspaceId: string } | null;
  /** it stays on this computer when all of it was sent */
  stays: boolean;
  camera: MediaStreamTrack | null;
  microphone: MediaStreamTrack | null;
  /** factors of amplitude */
  gains: Gains;
  /** the noise around the voice is taken out */
  suppresses: boolean;
  /** seconds between Record and the first frame; 0 begins as soon as every source is there */
  countIn: number;
  /** when the first frame is to be, ms since 1970; null for as soon as it can */
  startAt: number | null;
  limit: Limit | null;
}

/** What a recording begins with, for the server. */
export type NewRecording = Pick<
  Choice,
  "source" | "takeOf" | "title" | "audience" | "folder" | "ask" | "description" | "tags" | "person" | "stays"
>;

/** Begins a take, with the server or without it. Rejects with a message for the person. */
export type StartTake = (choice: NewRecording) => Promise<NewTake>;

/** How the recorder keeps up. */
export interface Health {
  pace: Partial<Record<TrackKind, TrackCounts>>;
  /** recorded, and not yet in a segment on this computer's disk: what a tab that dies now would lose */
  inHand: Micros;
  /** of each track, the source time up to which it is on the disk */
  kept: Partial<Record<TrackKind, Micros>>;
  /** segments that are on their way to the disk */
  keeping: number;
}

/** What a recorder works with; tests give others. */
export interface RecorderParts {
  outbox: Pick<Outbox, "open" | "throwAway" | "salvage">;
  startTake: StartTake;
  openScreen?: typeof openScreen;
  makeEngine?: (...given: ConstructorParameters<typeof Engine>) => EngineLike;
  wakeAt?: typeof wakeAt;
}
