#!/usr/bin/env node
// `npm run cluster`: four processes that answer and two that do the jobs, over one database, one place for media and
// one secret, as many computers would do it. They answer at PORT and the three ports after it; put any proxy before
// them.
import { fork } from "node:child_process";
import { once } from "node:events";
import { mkdirSync } from "node:fs";
import { dirname, join, resolve } from "node:path";
import { fileURLToPath } from "node:url";
import { ensureBuild, ensureModules } from "./lib/modules.mjs";
import { ensurePackages } from "./lib/packages.mjs";

const WEB = 4;
const WORKERS = 2;

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
ensurePackages(process.env.DATABASE_URL ? ["ffmpeg"] : ["postgresql-15", "ffmpeg"]);
ensureModules(root);
process.env.NODE_ENV = "production";
ensureBuild(root);
const { startCluster, keptSecret } = await import("../build/server/index.js");

const dir = resolve(process.env.DATA_DIR || ".data");
mkdirSync(dir, { recursive: true });
const first = Number(process.env.PORT || 5180);
/** What was started, and is ended the other way round. */
const children = [];
let database = null;
let stopping = false;

for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => void stop(0));

database = process.env.DATABASE_URL ? null : await startCluster(dir, (said) => console.error(said));
const shared = {
  ...process.env,
  DATABASE_URL: process.env.DATABASE_URL || database.url,
  STORAGE_URL: process.env.STORAGE_URL || `file:${join(dir, "media")}`,
  SESSION_SECRET: process.env.SESSION_SECRET || keptSecret(join(dir, "session-secret")),
  // What stands beside the sample is started once, beyond the ports of all.
  COURSE_PORT: process.env.COURSE_PORT || first + WEB + WORKERS,
  CHANNEL_PORT: process.env.CHANNEL_PORT || first + WEB + WORKERS + 1,
  PUBLIC_URL: process.env.PUBLIC_URL || `http://localhost:${first}`,
};
const all = [
  ...Array.from({ length: WEB }, (_, n) => ({ ROLE: "web", PORT: first + n })),
  ...Array.from({ length: WORKERS }, (_, n) => ({ ROLE: "worker", HEALTH_PORT: first + WEB + n })),
];
for (const [n, { ROLE, PORT, HEALTH_PORT }] of all.entries()) {
  const health = PORT ?? HEALTH_PORT;
  const own = { ROLE, PORT: PORT ?? first, HEALTH_PORT: HEALTH_PORT ?? "", DATA_DIR: join(dir, `process-${n}`) };
  const child = fork(join(root, "bin/start.mjs"), { env: { ...shared, ...own } });
  children.push(child);
  child.once("exit", (code) => {
    if (stopping) return;
    console.error(`The process at ${health} ended with ${code}.`);
    void stop(1);
  });
  await ready(health);
  console.log(`${ROLE} is ready at ${health}.`);
}
console.log(`All ${all.length} are ready. Ctrl-C stops them.`);

async function ready(port) {
  while (!stopping) {
    const answer = await fetch(`http://127.0.0.1:${port}/readyz`).catch(() => null);
    if (answer?.ok) return;
    await new Promise((next) => setTimeout(next, 200));
  }
}

async function stop(code) {
  if (stopping) return;
  stopping = true;
  const running = children.filter((child) => child.exitCode === null && child.signalCode === null);
  for (const child of running) child.kill("SIGTERM");
  await Promise.all(running.map((child) => once(child, "exit")));
  await database?.stop();
  process.exit(code);
}
