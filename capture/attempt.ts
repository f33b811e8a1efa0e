import type { EngineLike } from "./engine/engine";
import type { Outbox } from "./outbox/outbox";
import type { Sender } from "./outbox/sender";
import type { KeptTake } from "./outbox/store";
import { delay, unless, within } from "./waits";

/** A new take, and what the server gave for it. */
export type NewTake = Pick<KeptTake, "takeId" | "start" | "registered" | "title" | "stays">;

/** The person wants no recording after all: nothing is said about it. */
export class Cancelled extends Error {}
/** They go elsewhere: nothing stays open. */
export class Left extends Cancelled {}

const SOURCE_TIMEOUT_MS = 10_000;
const LATE =
  "A picture or sound did not start within 10 seconds. Check the camera and the chosen screen, then try again.";

/** Every source has delivered something. @throws what the signal was given for, or when it takes too long */
export const sourcesReady = (engine: EngineLike, signal: AbortSignal): Promise<void> =>
  within(SOURCE_TIMEOUT_MS, LATE, signal, engine.ready);

/**
 * One attempt to record, from the press to the first frame, with one signal that everything awaited in it looks at:
 * whoever cancels, ends the share or leaves is heard at every moment.
 */
export class Attempt {
  readonly #controller = new AbortController();
  readonly signal = this.#controller.signal;

  /** @param reason what everything that is awaited is rejected with */
  giveUp(reason: unknown): void {
    this.#controller.abort(reason);
  }

  /** Tells every second to go, and 0 when none is. @throws what it was given up for */
  async countIn(from: number, tell: (count: number) => void): Promise<void> {
    for (let count = from; count > 0; count--) {
      this.signal.throwIfAborted();
      tell(count);
      await delay(1000, this.signal);
    }
    this.signal.throwIfAborted();
    tell(0);
  }

  /**
   * Waits for the sources and makes the take, on the server and in the outbox.
   * @throws what it was given up for; then nothing of it is left
   */
  async prepare(
    engine: EngineLike,
    startTake: () => Promise<NewTake>,
    outbox: Pick<Outbox, "open" | "throwAway">,
  ): Promise<{ take: KeptTake; sender: Sender }> {
    // The sources first: a recording is made on the server only when there is something to record.
    await sourcesReady(engine, this.signal);
    const take = { ...(await startTake()), startedAt: Date.now(), expected: null, entries: [] };
    const sender = await outbox.open(take);
    if (this.signal.aborted) {
      // It was made while the person left: nobody else knows of it yet.
      await outbox.throwAway(take);
      throw this.signal.reason;
    }
    return { take, sender };
  }

  /** The work's result. @throws what it was given up for, as soon as it is */
  unless<T>(work: Promise<T>): Promise<T> {
    return unless(this.signal, work);
  }
}
