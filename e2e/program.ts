import { spawn, type ChildProcess } from "node:child_process";
import { once } from "node:events";
import { chmodSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect } from "@playwright/test";
import { freePort } from "../server/database/cluster";

/** A server of the test's own, started as a user starts it, on a data directory that outlives it. */
export class Program {
  readonly dir = mkdtempSync(join(tmpdir(), "clear-nod-start-"));
  readonly data = join(this.dir, "data");
  base = "";
  said = "";
  #child: ChildProcess | null = null;

  /** told to it besides */
  readonly env: Record<string, string> = {};

  /** @param by the command that starts it; it stands before the usual one */
  constructor(
    private readonly demo: "on" | "off",
    private readonly by: readonly string[] = [],
  ) {
    chmodSync(this.dir, 0o711);
  }

  async launch(): Promise<ChildProcess> {
    const port = await freePort();
    this.base = `http://localhost:${port}`;
    this.said = "";
    const [command, ...args] = [...this.by, "node", "bin/start.mjs"];
    const child = spawn(command!, args, {
      env: {
        ...process.env,
        PORT: String(port),
        DATA_DIR: this.data,
        DEMO: this.demo,
        LOG_LEVEL: "warn",
        DATABASE_URL: "",
        ...this.env,
      },
      stdio: ["ignore", "pipe", "pipe"],
    });
    for (const stream of [child.stdout, child.stderr])
      stream.on("data", (part: Buffer) => (this.said += part.toString()));
    this.#child = child;
    return child;
  }

  /** Waits until it answers. */
  async up(): Promise<void> {
    await expect
      .poll(
        () =>
          fetch(`${this.base}/readyz`).then(
            (a) => a.status,
            () => 0,
          ),
        { timeout: 60_000, message: this.said },
      )
      .toBe(200);
  }

  async kill(): Promise<void> {
    if (!this.#child || this.#child.exitCode !== null || this.#child.signalCode !== null) return;
    const ended = once(this.#child, "exit");
    this.#child.kill("SIGKILL");
    await ended;
  }

  async stop(): Promise<void> {
    const child = this.#child;
    if (child && child.exitCode === null && child.signalCode === null) {
      const ended = once(child, "exit");
      child.kill("SIGTERM");
      await ended;
    }
    rmSync(this.dir, { recursive: true, force: true });
  }

  /** The process that does the jobs: the only one of Node that the first has started. */
  worker(): number | null {
    const pid = this.#child!.pid!;
    const children = readFileSync(`/proc/${pid}/task/${pid}/children`, "utf8").trim().split(" ");
    const is = (child: string) => readFileSync(`/proc/${child}/cmdline`, "utf8").includes("bin/worker.mjs");
    return Number(children.find((child) => child !== "" && is(child))) || null;
  }

  /** Ends the database as a crash does. */
  killDatabase(): void {
    const pid = Number(readFileSync(join(this.data, "postgres/postmaster.pid"), "utf8").split("\n")[0]);
    process.kill(pid, "SIGKILL");
  }
}
