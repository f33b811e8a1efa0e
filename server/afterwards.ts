import type { Logger } from "pino";

/**
 * Work that is done after the answer, so that the time of an answer tells nothing of it. What goes wrong is logged;
 * whoever asked for it asks again.
 */
export class Afterwards {
  #running = new Set<Promise<void>>();

  constructor(
    private readonly log: Logger,
    private readonly what: string,
  ) {}

  do(work: () => Promise<void>): void {
    const running: Promise<void> = work()
      .catch((err: unknown) => this.log.error({ err }, this.what))
      .finally(() => this.#running.delete(running));
    this.#running.add(running);
  }

  /** Ends when all that was asked for is done. */
  async settled(): Promise<void> {
    await Promise.all(this.#running);
  }
}
