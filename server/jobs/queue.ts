import { setTimeout as delay } from "node:timers/promises";
import pg from "pg";
import PgBoss from "pg-boss";
import type { Logger } from "pino";
import { isConnectionLost } from "../database/lost";

/** Work that is done off the path. Safe to run twice, on any number of machines. */
export interface Jobs {
  "make-poster": { takeId: string };
  "clear-deleted": Record<string, never>;
}
type Name = keyof Jobs;
type Handlers = { [N in Name]: (data: Jobs[N]) => Promise<void> };

/** How often a database that is gone is asked for. */
const KNOCK_MS = 500;
const TRIES = { retryLimit: 4, retryDelay: 2, retryBackoff: true, expireInSeconds: 300 };

/** The job queue in PostgreSQL. */
export class Queue {
  #pool: pg.Pool;
  #boss: PgBoss;
  #stopped = false;

  constructor(
    url: string,
    private readonly log: Logger,
  ) {
    this.#pool = new pg.Pool({ connectionString: url, max: 4 });
    // A connection that is lost while it rests is made anew when it is needed.
    this.#pool.on("error", (err) => log.warn({ err }, "job queue"));
    this.#boss = new PgBoss({ schema: "jobs", db: { executeSql: (text, values) => this.#ask(text, values) } });
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
    this.#stopped = true;
    await this.#pool.end();
  }

  /**
   * A statement of the library. While the database is gone it waits for it: the library would leave an outcome that it
   * could not write unhandled, and the process would end with it. Done twice, it makes a job twice, which is safe.
   */
  async #ask(text: string, values: unknown[] = []): Promise<{ rows: unknown[] }> {
    for (;;) {
      try {
        return await this.#pool.query(text, values);
      } catch (error) {
        if (!isConnectionLost(error) || this.#stopped) throw error;
        await delay(KNOCK_MS);
      }
    }
  }
}
