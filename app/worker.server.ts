import { fork, type ChildProcess } from "node:child_process";
import { join } from "node:path";
import type { Logger } from "pino";
import type { Settings } from "#server/settings";

/** How long is waited before each new start of one that ended by itself; the last one over and over, in ms. */
const START_AGAIN_MS = [100, 1_000, 5_000, 15_000];
/** One that ran so long had started well: the next start is not waited for, in ms. */
const STARTED_WELL_MS = 60_000;
/** So long it has to end its work in hand; what it has not ended then is done again by the next one. */
const STOP_MS = 11_000;

/**
 * The process that does the jobs, beside the one that answers requests: pictures and sounds that are worked on there
 * keep no request waiting, and what takes it down takes nobody's page with it. It ends with this one, however that
 * ends, because the channel between the two breaks then; ended by itself, it is started again.
 */
export class WorkerProcess {
  #child: ChildProcess | null = null;
  #again: NodeJS.Timeout | undefined;
  #ended: Promise<void> = Promise.resolve();
  #stopping: Promise<void> | null = null;
  #tries = 0;

  /**
   * @param program what runs as the worker, see `bin/worker.mjs`
   * @param env of this process, with what its settings were made of
   */
  constructor(
    private readonly program: string,
    private readonly env: NodeJS.ProcessEnv,
    private readonly log: Logger,
  ) {
    this.#start();
  }

  /** Asks it to end, once, however often it is called. Ends when it has. */
  stop(): Promise<void> {
    return (this.#stopping ??= this.#stop());
  }

  async #stop(): Promise<void> {
    clearTimeout(this.#again);
    const child = this.#child;
    if (!child) return;
    if (child.connected) child.send("stop", () => undefined);
    const late = setTimeout(() => child.kill("SIGKILL"), STOP_MS);
    await this.#ended;
    clearTimeout(late);
  }

  #start(): void {
    const began = Date.now();
    const child = fork(this.program, { env: this.env, execArgv: process.execArgv });
    this.#child = child;
    this.#ended = new Promise((done) => {
      const ended = (why: object) => {
        if (this.#child !== child) return;
        this.#child = null;
        done();
        if (this.#stopping) return;
        if (Date.now() - began > STARTED_WELL_MS) this.#tries = 0;
        const wait = START_AGAIN_MS[Math.min(this.#tries++, START_AGAIN_MS.length - 1)];
        this.log.error(why, "the process that does the jobs ended and is started again");
        this.#again = setTimeout(() => this.#start(), wait);
      };
      child.once("error", (err) => ended({ err }));
      child.once("exit", (code, signal) => ended({ code, signal }));
    });
  }
}

/**
 * The environment of a worker beside a process with these settings: the same database, files and secret, and a
 * directory of its own for what it works on.
 */
export function workerEnv(env: NodeJS.ProcessEnv, settings: Settings, databaseUrl: string): NodeJS.ProcessEnv {
  return {
    ...env,
    ROLE: "worker",
    DATABASE_URL: databaseUrl,
    STORAGE_URL: settings.storageUrl,
    SESSION_SECRET: settings.sessionSecret,
    DATA_DIR: join(settings.dataDir, "worker"),
    // It is asked for nothing; the one that answers is.
    HEALTH_PORT: "",
  };
}
