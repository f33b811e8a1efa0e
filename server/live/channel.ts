import { EventEmitter } from "node:events";
import type { Socket } from "node:net";
import pg from "pg";
import type { Logger } from "pino";
import { isConnectionLost } from "../database/lost";

const CHANNEL = "clear_nod";

/** What processes tell each other. Small on purpose: PostgreSQL carries at most 8,000 bytes. */
export interface Notice {
  /**
   * recording: who may watch or change it has changed, or it was deleted or restored; session: it has ended;
   * chosen: a session looks at another workspace;
   * person: the workspaces they belong to, and what in them is theirs, have changed;
   * job: it is cancelled, and `id` says what it is about;
   * revision: another one of a recording was published;
   * folder: who belongs to it, or where it lies, has changed;
   * brand: that of a workspace was changed;
   * event: something was said about a recording; pages: a page of it was opened or closed
   */
  topic: "recording" | "session" | "chosen" | "person" | "job" | "revision" | "folder" | "brand" | "event" | "pages";
  id: string;
}

/** The statement that tells all processes when its transaction commits; its parameters are `noticeParameters`. */
export const NOTIFY = "select pg_notify($1, $2)";
export const noticeParameters = (notice: Notice) => [CHANNEL, JSON.stringify(notice)];

/** How often the connection is tried, and how long it may take to answer. */
const BEAT_MS = 15_000;
const BEAT_LATE_MS = 5_000;
/** How long is waited before each try to connect again; the last one over and over. */
const BACK_OFF_MS = [100, 250, 500, 1_000, 2_000];

/**
 * LISTEN/NOTIFY between all app processes of one database. A lost connection is made again, by one chain of tries;
 * because notices may have been missed meanwhile, `resumed` is emitted and caches start afresh.
 */
export class Channel extends EventEmitter<{ notice: [Notice]; resumed: [] }> {
  #client: pg.Client | null = null;
  #closed = false;
  #retry: NodeJS.Timeout | undefined;
  #heartbeat: NodeJS.Timeout | undefined;
  #telling: Promise<void> = Promise.resolve();
  /** told while there was no connection; told when there is one again */
  #untold: Notice[] = [];

  constructor(
    private readonly url: string,
    private readonly log: Logger,
  ) {
    super();
    this.setMaxListeners(100);
  }

  /** @throws when there is no database; later losses are made good by themselves */
  async open(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url, application_name: CHANNEL });
    client.on("error", (error) => this.#lost(client, error));
    client.on("end", () => this.#lost(client));
    client.on("notification", ({ payload }) => {
      if (payload) this.emit("notice", JSON.parse(payload) as Notice);
    });
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
    this.#client = client;
    clearInterval(this.#heartbeat);
    this.#heartbeat = setInterval(() => this.#beat(client), BEAT_MS).unref();
    const untold = this.#untold.splice(0);
    for (const notice of untold) await this.tell(notice);
  }

  /** Tells every process, this one included. Callers drop their own cached facts themselves, at once. */
  async tell(notice: Notice): Promise<void> {
    // One connection carries one statement at a time.
    const told = this.#telling.then(async () => {
      if (!this.#client) return void this.#untold.push(notice);
      await this.#client.query(NOTIFY, noticeParameters(notice)).catch((error: unknown) => {
        if (!isConnectionLost(error)) throw error;
        this.#untold.push(notice);
      });
    });
    this.#telling = told.catch(() => undefined);
    await told;
  }

  async close(): Promise<void> {
    this.#closed = true;
    clearTimeout(this.#retry);
    clearInterval(this.#heartbeat);
    await this.#client?.end();
  }

  /** A connection that is cut without a word, as by a firewall, would hear nothing for hours. */
  #beat(client: pg.Client): void {
    const { connection } = client as unknown as { connection: { stream: Socket } };
    const late = setTimeout(() => connection.stream.destroy(), BEAT_LATE_MS).unref();
    client
      .query("select 1")
      // What breaks it is told by the connection itself.
      .catch(() => undefined)
      .finally(() => clearTimeout(late));
  }

  /** Both `error` and `end` may tell of one loss; only the first one of the client in use counts. */
  #lost(client: pg.Client, error?: Error): void {
    if (this.#closed || this.#client !== client) return;
    this.#client = null;
    this.log.warn({ err: error }, "live channel lost, connecting again");
    this.#again(0);
  }

  #again(tries: number): void {
    this.#retry = setTimeout(
      () => {
        this.open().then(
          () => this.emit("resumed"),
          () => this.#closed || this.#again(tries + 1),
        );
      },
      BACK_OFF_MS[Math.min(tries, BACK_OFF_MS.length - 1)],
    );
  }
}
