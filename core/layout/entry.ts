import type { Micros } from "../time/micros";
import type { Mark } from "./mark";
import type { Scene } from "./scene";

/** How many entries one request carries at the most. */
export const ENTRIES_AT_ONCE = 200;

/**
 * What the presenter says of a moment: a talking point is done, something went wrong, its picture is wanted, or what
 * was recorded since another moment is to be left out, because they go on from there.
 */
export const NOTES = ["point", "mistake", "still", "backed-up"] as const;
export interface Note {
  what: (typeof NOTES)[number];
  /** the talking point; empty for the others */
  text: string;
  /** where those who backed up go on from, in the time of the take */
  since?: Micros;
}

/** The longest talking point. */
export const POINT_MAX = 160;

/**
 * Something that happened in a take, or was said of it while recording: a small row of its own, sent as soon as it is
 * there. Changed or taken back, it keeps its id and gets a higher version; taken back, it has no body any more.
 */
export type Entry = {
  id: string;
  /** from 1 */
  version: number;
  /** in the time of the take */
  at: Micros;
} & ({ kind: "scene"; body: Scene | null } | { kind: "note"; body: Note | null } | { kind: "mark"; body: Mark | null });
