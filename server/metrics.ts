import { timingSafeEqual, createHash } from "node:crypto";
import { collectDefaultMetrics, Counter, Gauge, Histogram, Registry } from "prom-client";
import type { Database } from "./database/connection";
import { JOBS_WAITING, MAILS_WAITING } from "./jobs/sql";

/** Bounds of what takes a moment, in seconds. */
const MOMENTS = [0.005, 0.01, 0.025, 0.05, 0.1, 0.25, 0.5, 1, 2.5, 5, 10];

/** What is asked for over HTTP, by what answers it: few, so that the series are few. */
export type RequestKind = "page" | "ingest" | "media" | "film" | "answers" | "events" | "api" | "file" | "health";

/**
 * What whoever runs a process may want to know of it, in the text format of Prometheus. Names, words and addresses of
 * people are in none of it. What stands in the database is looked up when it is asked for.
 */
export class Metrics {
  readonly #registry = new Registry();
  readonly #requests: Histogram<"kind" | "status">;
  readonly #rounds: Histogram;
  readonly #refused: Counter<"code">;
  readonly #gauges: Record<"streams" | "connections" | "jobs" | "oldest" | "mails", Gauge>;

  /** @param streams how many pages are told what happens by this process */
  constructor(
    private readonly db: Database,
    private readonly streams: () => number,
  ) {
    const registers = [this.#registry];
    collectDefaultMetrics({ register: this.#registry });
    this.#requests = new Histogram({
      name: "clear_nod_request_seconds",
      help: "How long requests took, by what answered them and the hundred of their status.",
      labelNames: ["kind", "status"],
      buckets: MOMENTS,
      registers,
    });
    this.#rounds = new Histogram({
      name: "clear_nod_ingest_round_seconds",
      help: "How long it took to write down the parts of takes that came together.",
      buckets: MOMENTS,
      registers,
    });
    this.#refused = new Counter({
      name: "clear_nod_parts_refused_total",
      help: "Parts of takes that were refused, by why.",
      labelNames: ["code"],
      registers,
    });
    const gauge = (name: string, help: string, labelNames: string[] = []) =>
      new Gauge({ name: `clear_nod_${name}`, help, labelNames, registers });
    this.#gauges = {
      streams: gauge("streams", "Pages that are told at once what happens."),
      connections: gauge("database_connections", "Connections to the database, by what they do.", ["state"]),
      jobs: gauge("jobs", "Work that waits or is being done, by kind.", ["job", "state"]),
      oldest: gauge("job_oldest_seconds", "Since when the oldest work of a kind could be done.", ["job"]),
      mails: gauge("mails", "Letters that are not over, and those of the last day that came back.", ["state"]),
    };
  }

  request(kind: RequestKind, status: number, seconds: number): void {
    this.#requests.observe({ kind, status: `${Math.floor(status / 100)}xx` }, seconds);
  }

  ingestRound(seconds: number): void {
    this.#rounds.observe(seconds);
  }

  /** @param code of the problem, one of few */
  partRefused(code: string): void {
    this.#refused.inc({ code });
  }

  get contentType(): string {
    return this.#registry.contentType;
  }

  async text(): Promise<string> {
    await this.#look();
    return this.#registry.metrics();
  }

  async #look(): Promise<void> {
    const [jobs, letters] = await Promise.all([
      this.db.rows<JobsWaiting>(JOBS_WAITING),
      this.db.rows<{ state: string; count: number }>(MAILS_WAITING),
    ]);
    // From here on nothing is waited for: whoever asks at the same moment finds all of it.
    for (const gauge of Object.values(this.#gauges)) gauge.reset();
    this.#gauges.streams.set(this.streams());
    const { size, available, using, waiting } = poolOf(this.db);
    for (const [state, count] of Object.entries({ open: size, free: available, used: using, wanted: waiting }))
      this.#gauges.connections.set({ state }, count);
    for (const { name, state, count, oldest } of jobs) {
      this.#gauges.jobs.set({ job: name, state }, count);
      if (state === "waiting") this.#gauges.oldest.set({ job: name }, oldest);
    }
    for (const { state, count } of letters) this.#gauges.mails.set({ state }, count);
  }
}

/** May whoever sends this field (`Authorization`, RFC 6750) see them? Nobody may where no token is set. */
export function maySeeMetrics(token: string | null, authorization: string | undefined): boolean {
  // The name of a scheme is one however it is written (RFC 9110, 11.1).
  const [, given] = /^bearer (.+)$/i.exec(authorization ?? "") ?? [];
  if (token === null || given === undefined) return false;
  const digest = (text: string) => createHash("sha256").update(text).digest();
  return timingSafeEqual(digest(given), digest(token));
}

interface JobsWaiting {
  name: string;
  state: "waiting" | "active";
  count: number;
  /** seconds since the oldest of them could be done */
  oldest: number;
}

interface Pool {
  size: number;
  available: number;
  using: number;
  waiting: number;
}
/** Sequelize's pool, which its types do not tell. */
const poolOf = (db: Database): Pool => (db.sequelize.connectionManager as unknown as { pool: Pool }).pool;
