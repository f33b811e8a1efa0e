import type { Micros } from "../time/micros";
import type { Scene } from "./scene";

/** How many entries one request carries at the most. */
export const ENTRIES_AT_ONCE = 200;

/**
 * Something that happened in a take, or was said of it while recording: a small row of its own, sent as soon as it is
 * there. Changed or taken back, it keeps its id and gets a higher version.
 */
export interface Entry {
  id: string;
  /** from 1 */
  version: number;
  kind: "scene";
  /** in the time of the take */
  at: Micros;
  /** null when it was taken back */
  body: Scene | null;
}
