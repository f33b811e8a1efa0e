import { setTimeout as delay } from "node:timers/promises";
import pg from "pg";
import PgBoss from "pg-boss";
import type { Logger } from "pino";
import type { Transaction } from "sequelize";
import { isConnectionLost } from "../database/lost";
import type { Channel } from "../live/channel";
import type { Erased } from "../recordings/erase";
import type { WholeTake } from "../recordings/takes";
import { UNFINISHED_JOBS } from "./sql";

/** Work that is done off the path. Safe to run twice, on any number of machines. */
export interface Jobs {
  /** all of a take is here: what follows from that */
  "take-ended": WholeTake;
  /** something else is shown of a recording: what follows from that */
  shown: { recordingId: string };
  /** recordings are gone: their files go */
  erased: Erased;
  /** what waits in a table, and whose job was lost with a process, is asked for again */
  "go-on": Record<string, never>;
  "make-poster": { recordingId: string };
  /** what was asked for is in the table of publications */
  publish: { recordingId: string };
  /** edges of what a draft shows are made before they are asked for */
  prepare: { recordingId: string };
  "look-over": { takeId: string };
  /** the noise is taken out of a voice */
  suppress: { takeId: string };
  /** what was asked for is in the table of films */
  film: { recordingId: string };
  /** a film is brought to an outside place, or taken away from it */
  "send-out": { sendingId: string };
  /** what is written down in the table of mails is carried */
  mail: { mailId: string };
  /** people are told what is new for them, and reminded of what is asked of them */
  tell: Record<string, never>;
  /** addresses of programs are told what happens */
  hooks: Record<string, never>;
  /** what nobody uses goes, and is told of before */
  retain: Record<string, never>;
  "clear-deleted": Record<string, never>;
  "sweep-storage": Record<string, never>;
}
type Name = keyof Jobs;
/** What does the work. The signal is given when it is cancelled, when its time is over, and when the process ends. */
export type Handlers = { [N in Name]: (data: Jobs[N], signal: AbortSignal) => Promise<void> };

/** How often, and after how many seconds at first, work that failed is tried again; then twice as long each time. */
const TRIES = { retryLimit: 4, retryDelay: 2, retryBackoff: true };

/** For each kind of work: what it is about, its time, and when it is done by itself (cron, UTC). */
interface JobPolicy<N extends Name> {
  /** of work about the same thing, one waits at the most */
  key: (data: Jobs[N]) => string;
  seconds: number;
  cron?: string;
  /** how many are done at once by one process; one, where it is not told */
  atOnce?: number;
  /** how often it is looked for, where nobody waits for it; else twice a second */
  everySeconds?: number;
  /** it follows from a transaction, and is a row of that: each is done, however many are about the same thing */
  follows?: true;
  /** where it is tried again in another way than usual */
  tries?: typeof TRIES;
}
const KINDS = {
  "take-ended": { key: ({ takeId }) => takeId, seconds: 120, atOnce: 2, follows: true },
  shown: { key: ({ recordingId }) => recordingId, seconds: 60, follows: true },
  erased: { key: ({ recordingIds }) => recordingIds.join(), seconds: 900, everySeconds: 5, follows: true },
  "go-on": { key: () => "all", seconds: 60, everySeconds: 5, cron: "*/5 * * * *" },
  "make-poster": { key: ({ recordingId }) => recordingId, seconds: 180 },
  // What is made stays made: a long one is done in several goes, between which others have their turn.
  publish: { key: ({ recordingId }) => recordingId, seconds: 180 },
  prepare: { key: ({ recordingId }) => recordingId, seconds: 180 },
  "look-over": { key: ({ takeId }) => takeId, seconds: 600 },
  suppress: { key: ({ takeId }) => takeId, seconds: 900 },
  // As publishing: an hour of it is made in many goes.
  film: { key: ({ recordingId }) => recordingId, seconds: 600 },
  // A place that does not answer keeps no others waiting.
  "send-out": { key: ({ sendingId }) => sendingId, seconds: 3600, atOnce: 4 },
  // A mail server that is away comes back within hours: after half a minute, a minute, two, and so on.
  mail: { key: ({ mailId }) => mailId, seconds: 120, tries: { retryLimit: 9, retryDelay: 30, retryBackoff: true } },
  // The next minute is the next try.
  tell: {
    key: () => "all",
    seconds: 300,
    cron: "* * * * *",
    tries: { retryLimit: 0, retryDelay: 0, retryBackoff: false },
  },
  // The next minute is the next try; what is sent has its own tries.
  hooks: {
    key: () => "all",
    seconds: 300,
    cron: "* * * * *",
    tries: { retryLimit: 0, retryDelay: 0, retryBackoff: false },
  },
  retain: { key: () => "all", seconds: 3600, everySeconds: 5, cron: "27 2 * * *" },
  "clear-deleted": { key: () => "all", seconds: 3600, everySeconds: 5, cron: "17 3 * * *" },
  "sweep-storage": { key: () => "all", seconds: 6 * 3600, everySeconds: 5, cron: "47 3 * * *" },
} satisfies { [N in Name]: JobPolicy<N> };
const POLICIES: { [N in Name]: JobPolicy<N> } = KINDS;
const NAMES = Object.keys(POLICIES) as Name[];
/** Those that follow from a transaction. */
type Following = { [N in Name]: (typeof KINDS)[N] extends { follows: true } ? N : never }[Name];

/** How often a database that is gone is asked for. */
const KNOCK_MS = 500;
/** How long a stop waits for work in hand, and then for what the work still had to write. */
const STOP_MS = 8_000;
const LAST_WORDS_MS = 2_000;
/** So much before that, work in hand is told to end. */
const ABORT_EARLIER_MS = 1_000;

/** Why a signal was given, when it is not for time: nobody wants the work. */
const CANCELLED = "cancelled";

type Handler = (data: object, signal: AbortSignal) => Promise<void>;

/** The job queue in PostgreSQL. */
export class Queue {
  #pool: pg.Pool;
  #boss: PgBoss;
  #stopped = false;
  /** handlers and statements under way */
  #busy = 0;
  /** work under way here, by what it is about */
  #running = new Map<AbortController, string>();

  constructor(
    url: string,
    private readonly log: Logger,
    private readonly channel: Pick<Channel, "on" | "tell">,
  ) {
    channel.on("notice", ({ topic, id }) => topic === "job" && this.#cancelHere(id));
    this.#pool = new pg.Pool({ connectionString: url, max: 4 });
    // A connection that is lost while it rests is made anew when it is needed.
    this.#pool.on("error", (err) => log.warn({ err }, "job queue"));
    this.#boss = new PgBoss({ schema: "jobs", db: { executeSql: (text, values) => this.#ask(text, values) } });
    this.#boss.on("error", (err) => log.error({ err }, "job queue"));
  }

  /** @param handlers null for a process that only sends */
  async start(handlers: Handlers | null): Promise<void> {
    await this.#boss.start();
    for (const name of NAMES) {
      const { seconds, tries = TRIES, follows } = POLICIES[name];
      const kind = follows ? ("standard" as const) : ("short" as const);
      const policy = { name, ...tries, policy: kind, expireInSeconds: seconds };
      await this.#boss.createQueue(name, policy);
      // One that was made by an earlier version has what was right then.
      await this.#boss.updateQueue(name, policy);
      if (!handlers) continue;
      const { cron, atOnce = 1, everySeconds = 0.5 } = POLICIES[name];
      for (let n = 0; n < atOnce; n++)
        await this.#boss.work<object>(name, { pollingIntervalSeconds: everySeconds, batchSize: 1 }, async ([job]) => {
          if (job) await this.#run(name, job.data, handlers[name] as Handler);
        });
      if (cron) await this.#boss.schedule(name, cron, {}, { singletonKey: "all" });
    }
  }

  /**
   * Asks for work. What waits already for the same thing is not asked for twice.
   * @param behind how many of the same kind may go before it: whoever had much lately waits for those who had less
   */
  async send<N extends Name>(name: N, data: Jobs[N], { behind = 0 } = {}): Promise<void> {
    if (this.#stopped) throw new Error("The job queue has stopped; start it anew to send.");
    await this.#boss.send(name, data, { singletonKey: POLICIES[name].key(data), priority: -behind });
  }

  /** Asks for work that follows from a transaction: with it or not at all. */
  async follow<N extends Following>(transaction: Transaction, name: N, data: Jobs[N]): Promise<void> {
    // As Sequelize keeps it: the connection on which the transaction is.
    const { connection } = transaction as unknown as { connection: pg.ClientBase };
    const executeSql = async (text: string, values: unknown[]) => connection.query(text, values);
    await this.#boss.send(name, data, { db: { executeSql } });
  }

  /** Nobody wants this work any more: what waits is not begun, and what runs, wherever it runs, is told so. */
  async cancel<N extends Name>(name: N, data: Jobs[N]): Promise<void> {
    const key = POLICIES[name].key(data);
    const { rows } = await this.#ask(UNFINISHED_JOBS, [name, key]);
    const ids = (rows as { id: string }[]).map((row) => row.id);
    if (ids.length === 0) return;
    await this.#boss.cancel(name, ids);
    this.#cancelHere(`${name} ${key}`);
    await this.channel.tell({ topic: "job", id: `${name} ${key}` });
  }

  async stop(): Promise<void> {
    // What would not be done in time is broken off, and done again after the next start.
    const last = setTimeout(() => {
      for (const ending of this.#running.keys()) ending.abort();
    }, STOP_MS - ABORT_EARLIER_MS);
    await this.#boss.stop({ graceful: true, timeout: STOP_MS, wait: true });
    clearTimeout(last);
    // The library counts neither a job that it is just fetching nor an outcome that it is just writing.
    for (const until = Date.now() + LAST_WORDS_MS; this.#busy > 0 && Date.now() < until;) await delay(20);
    this.#stopped = true;
    await this.#pool.end();
  }

  async #run(name: Name, data: object, handler: Handler): Promise<void> {
    const { key, seconds } = POLICIES[name] as JobPolicy<never>;
    const ending = new AbortController();
    this.#running.set(ending, `${name} ${key(data as never)}`);
    this.#busy++;
    try {
      await handler(data, AbortSignal.any([ending.signal, AbortSignal.timeout(seconds * 1000)]));
    } catch (err) {
      if (ending.signal.reason === CANCELLED) return this.log.info({ job: name }, "job cancelled");
      this.log.error({ err, job: name, data }, "job failed");
      throw err;
    } finally {
      this.#running.delete(ending);
      this.#busy--;
    }
  }

  #cancelHere(about: string): void {
    for (const [ending, what] of this.#running) if (what === about) ending.abort(CANCELLED);
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
