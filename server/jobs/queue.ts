import PgBoss from "pg-boss";
import type { Logger } from "pino";

/** Work that is done off the path. Safe to run twice, on any number of machines. */
export interface Jobs {
  "make-poster": { takeId: string };
  "clear-deleted": Record<string, never>;
}
type Name = keyof Jobs;
type Handlers = { [N in Name]: (data: Jobs[N]) => Promise<void> };

const TRIES = { retryLimit: 4, retryDelay: 2, retryBackoff: true, expireInSeconds: 300 };

/** The job queue in PostgreSQL. */
export class Queue {
  #boss: PgBoss;

  constructor(
    url: string,
    private readonly log: Logger,
  ) {
    this.#boss = new PgBoss({ connectionString: url, max: 4, schema: "jobs" });
    this.#boss.on("error", (err) => log.error({ err }, "job queue"));
  }

  async start(handlers: Handlers): Promise<void> {
    await this.#boss.start();
    for (const name of Object.keys(handlers) as Name[]) {
      await this.#boss.createQueue(name, { name, ...TRIES });
      await this.#boss.work<Jobs[typeof name]>(name, { pollingIntervalSeconds: 0.5, batchSize: 1 }, async ([job]) => {
        if (!job) return;
        try {
          await (handlers[name] as (data: unknown) => Promise<void>)(job.data);
        } catch (err) {
          this.log.error({ err, job: name, data: job.data }, "job failed");
          throw err;
        }
      });
    }
    await this.#boss.schedule("clear-deleted", "17 3 * * *", {});
  }

  async send<N extends Name>(name: N, data: Jobs[N]): Promise<void> {
    await this.#boss.send(name, data);
  }

  async stop(): Promise<void> {
    await this.#boss.stop({ graceful: true, timeout: 8_000, wait: true });
  }
}
