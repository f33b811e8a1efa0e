import { EventEmitter } from "node:events";
import pg from "pg";
import type { Logger } from "pino";

const CHANNEL = "clear_nod";

/** What processes tell each other. Small on purpose: PostgreSQL carries at most 8,000 bytes. */
export interface Notice {
  /**
   * recording: who may watch or change it has changed, or it was deleted or restored; session: it has ended;
   * event: something was said about a recording; pages: a page of it was opened or closed
   */
  topic: "recording" | "session" | "event" | "pages";
  id: string;
}

/** The statement that tells all processes when its transaction commits; its parameters are `noticeParameters`. */
export const NOTIFY = "select pg_notify($1, $2)";
export const noticeParameters = (notice: Notice) => [CHANNEL, JSON.stringify(notice)];

/**
 * LISTEN/NOTIFY between all app processes of one database. A lost connection is made again; because notices may have
 * been missed meanwhile, `resumed` is emitted and caches start afresh.
 */
export class Channel extends EventEmitter<{ notice: [Notice]; resumed: [] }> {
  #client: pg.Client | null = null;
  #closed = false;
  #retry: NodeJS.Timeout | undefined;
  #telling: Promise<void> = Promise.resolve();

  constructor(
    private readonly url: string,
    private readonly log: Logger,
  ) {
    super();
    this.setMaxListeners(100);
  }

  async open(): Promise<void> {
    const client = new pg.Client({ connectionString: this.url });
    client.on("error", (error) => this.#lost(client, error));
    client.on("end", () => this.#lost(client));
    client.on("notification", ({ payload }) => {
      if (payload) this.emit("notice", JSON.parse(payload) as Notice);
    });
    await client.connect();
    await client.query(`listen ${CHANNEL}`);
    this.#client = client;
  }

  /** Tells every process, this one included. Callers drop their own cached facts themselves, at once. */
  async tell(notice: Notice): Promise<void> {
    // One connection carries one statement at a time.
    const told = this.#telling.then(() => this.#client?.query(NOTIFY, noticeParameters(notice)));
    this.#telling = told.then(
      () => undefined,
      () => undefined,
    );
    await told;
  }

  async close(): Promise<void> {
    this.#closed = true;
    clearTimeout(this.#retry);
    await this.#client?.end();
  }

  #lost(client: pg.Client, error?: Error): void {
    if (this.#closed || (this.#client !== null && this.#client !== client)) return;
    if (this.#client === null && !error) return;
    this.#client = null;
    this.log.warn({ err: error }, "live channel lost, connecting again");
    this.#retry = setTimeout(() => {
      this.open().then(
        () => this.emit("resumed"),
        (again: Error) => this.#lost(client, again),
      );
    }, 1000);
  }
}
