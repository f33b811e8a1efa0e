import { LRUCache } from "lru-cache";
import type { Database } from "../database/connection";
import { ASKED_LATELY } from "./sql";

/** So long a piece of long work keeps the others of its kind waiting, in ms. */
const GO_MS = 20_000;
/** The last goes are so many times longer than the first; shorter than the time of a job. */
const MOST_LONGER = 7;
/** So many goes put one behind as far as it gets. */
const MOST_BEHIND = 1_000;

/** The kinds of work that take turns, by the tables in which they wait. */
export type Taking = "publications" | "films";

/**
 * Long work takes turns by workspace: whoever had least lately is next, and what does not come to its end in a go waits
 * behind the others for another one.
 */
export class Goes {
  /** how many goes each piece of work has had; of a process that died, they begin anew */
  #had = new LRUCache<string, number>({ max: 10_000 });

  constructor(
    private readonly db: Database,
    private readonly kind: Taking,
    private readonly later: (recordingId: string, behind: number) => Promise<void>,
  ) {}

  /** Asks for work on a recording. */
  async ask(recordingId: string): Promise<void> {
    const [row] = await this.db.rows<{ count: number }>(ASKED_LATELY[this.kind], [recordingId]);
    const behind = (row?.count ?? 0) + (this.#had.get(recordingId) ?? 0);
    await this.later(recordingId, Math.min(MOST_BEHIND, behind));
  }

  /** Asks for another go of it, behind the others. */
  async again(recordingId: string): Promise<void> {
    this.#had.set(recordingId, (this.#had.get(recordingId) ?? 0) + 1);
    await this.ask(recordingId);
  }

  /**
   * One go of it. What was broken off by that is asked for again.
   * @param work safe to run again; what it has made stays made
   */
  async go(recordingId: string, signal: AbortSignal, work: (signal: AbortSignal) => Promise<void>): Promise<void> {
    // One step of it may take longer than a go: each go is longer than the one before, so that it comes to its end.
    const over = AbortSignal.timeout(GO_MS * (1 + Math.min(MOST_LONGER, this.#had.get(recordingId) ?? 0)));
    try {
      await work(AbortSignal.any([signal, over]));
      this.#had.delete(recordingId);
    } catch (error) {
      if (signal.aborted || !over.aborted) throw error;
      await this.again(recordingId);
    }
  }
}
