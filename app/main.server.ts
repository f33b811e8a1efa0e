import { statfs } from "node:fs/promises";
import { createServer, type Server } from "node:http";
import { join } from "node:path";
import type { RequestHandler } from "express";
import type { ServerBuild } from "react-router";
import { ClusterError, startCluster } from "#server/database/cluster";
import { openWorkRoom } from "#server/jobs/work-room";
import { claim, LockedError } from "#server/lock";
import { openRuntime, type DemoPerson, type Runtime } from "#server/runtime";
import { readSettings, SettingsError } from "#server/settings";
import { answerHealth } from "./health.server";
import { createHttpServer, type Pages } from "./http.server";
import { WorkerProcess, workerEnv } from "./worker.server";

/** Something the person who started it can mend. `bin/start.mjs` prints the message and nothing else. */
export class StartError extends Error {}

export interface Started {
  /** null for a worker, which answers nobody */
  url: string | null;
  /** whom one can sign in as in the sample */
  demo: DemoPerson[];
  /** what stands in for something outside, beside the sample */
  besides: { what: string; url: string }[];
  stop(): Promise<void>;
}

/** Loads the sample, or puts it back; given by whoever starts, because the sample stands above this room. */
export type Demo = (runtime: Runtime) => Promise<DemoPerson[]>;

/** Starts what stands in for something outside, beside the sample; null where it cannot. */
export type Beside = (runtime: Runtime) => Promise<{ what: string; url: string; stop: () => Promise<void> } | null>;

export interface Front {
  /** production: where the built client files are */
  assets: string | null;
  /** development: Vite's middleware, and how it loads the pages anew */
  dev: { middleware: RequestHandler; load: () => Promise<ServerBuild> } | null;
  demo: Demo | null;
  besides: Beside[];
  /** the program that does the jobs in a process beside this one; null to do them in this one */
  worker: string | null;
}

const LEAST_FREE_BYTES = 200 * 1024 * 1024;

/**
 * Starts everything: settings, the data directory's claim, the database, the migrations, the workers, the sample, the
 * server.
 * @throws {StartError} with a message that tells what to do
 */
export async function start(env: Record<string, string | undefined>, front: Front): Promise<Started> {
  const { runtime, undo, worker, stop: end } = await open(env, front.worker);
  const stop = async () => {
    runtime.stopping = true;
    // It ends its work in hand while the requests in flight end.
    await Promise.all([worker?.stop(), end()]);
  };
  try {
    const { settings } = runtime;
    if (settings.role === "worker") {
      if (settings.healthPort !== null) {
        const server = createServer(async (req, res) => {
          if (!(await answerHealth(runtime, req, res))) res.writeHead(404).end();
        });
        await listening(server, { port: settings.healthPort, ...(settings.host && { host: settings.host }) });
        undo.push(() => new Promise<void>((done) => server.close(() => done()).closeAllConnections()));
      }
      runtime.log.info({ dataDir: settings.dataDir }, "started as a worker");
      return { url: null, demo: [], besides: [], stop };
    }
    if (settings.demo && front.demo) runtime.demo = await front.demo(runtime);
    const pages: Pages = front.dev
      ? { build: front.dev.load, assets: null, dev: front.dev.middleware }
      : { build: await import("virtual:react-router/server-build"), assets: front.assets, dev: null };
    const server = createHttpServer(runtime, pages);
    await listening(server, { port: settings.port, ...(settings.host && { host: settings.host }) });
    undo.push(async () => {
      // Open streams do not end by themselves; the streams of pages are ended first.
      const closed = new Promise<void>((done) => server.close(() => done()));
      await runtime.streams.close();
      server.closeIdleConnections();
      // Requests in flight get a moment to end.
      setTimeout(() => server.closeAllConnections(), 4_000).unref();
      await closed;
    });
    const besides: Started["besides"] = [];
    for (const begin of runtime.demo.length > 0 ? front.besides : []) {
      const beside = await begin(runtime);
      if (!beside) continue;
      undo.push(beside.stop);
      besides.push({ what: beside.what, url: beside.url });
    }
    runtime.log.info({ port: settings.port, dataDir: settings.dataDir }, "started");
    return { url: settings.publicUrl, demo: runtime.demo, besides, stop };
  } catch (cause) {
    await stop();
    throw explained(cause, env);
  }
}

/** Does something with everything but the server, and ends. @throws {StartError} as when the server is running */
export async function once(
  env: Record<string, string | undefined>,
  work: (runtime: Runtime) => Promise<void>,
): Promise<void> {
  const { runtime, stop } = await open(env);
  try {
    await work(runtime);
  } finally {
    await stop();
  }
}

const listening = (server: Server, at: { port: number; host?: string }) =>
  new Promise<void>((done, failed) => server.once("error", failed).listen(at, done));

/** @param program see `Front.worker` */
async function open(env: Record<string, string | undefined>, program: string | null = null) {
  const undo: (() => Promise<void> | void)[] = [];
  const stop = async () => {
    const failures: unknown[] = [];
    // What cannot be ended keeps nothing else from ending: the database that was started here last of all.
    for (const step of undo.splice(0).reverse())
      try {
        await step();
      } catch (error) {
        failures.push(error);
      }
    if (failures.length > 0) throw failures[0];
  };
  try {
    const settings = readSettings(env);
    await checkDisk(settings.dataDir);
    undo.push(await claim(settings.dataDir));
    await openWorkRoom(join(settings.dataDir, "work"));
    let databaseUrl = settings.databaseUrl;
    if (!databaseUrl) {
      const cluster = await startCluster(settings.dataDir, (said) => process.stderr.write(`${said}\n`));
      undo.push(() => cluster.stop());
      databaseUrl = cluster.url;
    }
    const beside = settings.role === "all" ? program : null;
    const runtime = await openRuntime(beside === null ? settings : { ...settings, role: "web" }, databaseUrl);
    undo.push(() => runtime.close());
    const worker =
      beside === null ? null : new WorkerProcess(beside, workerEnv(env, settings, databaseUrl), runtime.log);
    if (worker) undo.push(() => worker.stop());
    return { runtime, undo, worker, stop };
  } catch (cause) {
    await stop();
    throw explained(cause, env);
  }
}

async function checkDisk(dir: string) {
  const { bavail, bsize } = await statfs(dir);
  if (bavail * bsize < LEAST_FREE_BYTES) {
    throw new StartError(
      `The disk of ${dir} is full: ${Math.floor((bavail * bsize) / 1e6)} MB are free, 200 MB are needed. Free some, or set DATA_DIR.`,
    );
  }
}

function explained(cause: unknown, env: Record<string, string | undefined>): unknown {
  const { code, message } = cause as NodeJS.ErrnoException;
  if (cause instanceof SettingsError || cause instanceof ClusterError || cause instanceof LockedError)
    return new StartError(message, { cause });
  if (code === "EADDRINUSE")
    return new StartError(`Port ${env.PORT ?? 5180} is taken by another program. Stop it, or set PORT.`, { cause });
  if (code === "EACCES")
    return new StartError(
      `This user may not do that: ${message}. Set PORT above 1023, or DATA_DIR to a place of yours.`,
      { cause },
    );
  if (code === "ENOSPC")
    return new StartError("The disk is full. Free some, or set DATA_DIR to another place.", { cause });
  if ((cause as Error).name?.startsWith("SequelizeConnection"))
    return new StartError(`The database does not answer: ${message}. Check DATABASE_URL.`, { cause });
  return cause;
}
