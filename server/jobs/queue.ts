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
/** How long a stop waits for work in hand, and then for what the work still had to write. */
const STOP_MS = 8_000;
const LAST_WORDS_MS = 2_000;
const TRIES = { retryLimit: 4, retryDelay: 2, retryBackoff: true, expireInSeconds: 300 };

/** The job queue in PostgreSQL. */
export class Queue {
  #pool: pg.Pool;
  #boss: PgBoss;
  #stopped = false;
  /** handlers and statements under way */
  #busy = 0;

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
        this.#busy++;
        try {
          await (handlers[name] as (data: unknown) => Promise<void>)(job.data);
        } catch (err) {
          this.log.error({ err, job: name, data: job.data }, "job failed");
          throw err;
        } finally {
          this.#busy--;
        }
      });
    }
    await this.#boss.schedule("clear-deleted", "17 3 * * *", {});
  }

  async send<N extends Name>(name: N, data: Jobs[N]): Promise<void> {
    if (this.#stopped) throw new Error("The job queue has stopped; start it anew to send.");
    await this.#boss.send(name, data);
  }

  async stop(): Promise<void> {
    await this.#boss.stop({ graceful: true, timeout: STOP_MS, wait: true });
    // The library counts neither a job that it is just fetching nor an outcome that it is just writing.
    for (const until = Date.now() + LAST_WORDS_MS; this.#busy > 0 && Date.now() < until;) await delay(20);
    this.#stopped = true;
    await this.#pool.end();
  }

  /**
   * A statement of the library. While the database is gone it waits for it: the library would leave an outcome that it
   * could not write unhandled, and the process would end with it. Done twice, it makes a job twice, which is safe.
   */
  async #ask(text: string, values: unknown[] = []): Promise<{ rows: unknown[] }> {
    this.#busy++;
    try {
      for (;;) {
        // The job's time ran out with the stop and it is done again; nobody waits for this any more.
        if (this.#stopped) return await new Promise<never>(() => undefined);
        try {
          return await this.#pool.query(text, values);
        } catch (error) {
          if (!isConnectionLost(error)) throw error;
          await delay(KNOCK_MS);
        }
      }
    } finally {
      this.#busy--;
    }
  }
}
