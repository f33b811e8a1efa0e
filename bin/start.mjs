#!/usr/bin/env node
// `npm start` and `npm run dev`: from a bare machine to a running server, with nothing that is done twice.
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { ensureBuild, ensureModules } from "./lib/modules.mjs";
import { ensurePackages } from "./lib/packages.mjs";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
const dev = process.argv.includes("--dev");
const [major, minor] = process.versions.node.split(".").map(Number);
if (major < 20 || (major === 20 && minor < 19)) {
  console.error(`Node 20.19 or newer is needed; this is ${process.version}.`);
  process.exit(1);
}

ensurePackages(process.env.DATABASE_URL ? ["ffmpeg"] : ["postgresql-15", "ffmpeg"]);
ensureModules(root);
process.env.NODE_ENV = dev ? "development" : "production";
if (!dev) ensureBuild(root);

let vite = null;
let running = null;
let stopping = false;
for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) {
  process.on(signal, async () => {
    if (stopping) return;
    stopping = true;
    if (running) await (await running.catch(() => null))?.stop();
    await vite?.close();
    process.exit(0);
  });
}

try {
  running = dev ? startDev() : startProduction();
  const { url } = await running;
  console.log(`\nClear Nod is at ${url}\nSign in: open ${url}/sign-up and start a workspace, or use the account you made.\nCtrl-C stops it.\n`);
} catch (error) {
  if (stopping) process.exit(0);
  if (error?.constructor?.name !== "StartError") throw error;
  console.error(`\n${error.message}`);
  await vite?.close();
  process.exit(1);
}

async function startProduction() {
  const { start } = await import("../build/server/index.js");
  return start(process.env, { assets: join(root, "build/client"), dev: null });
}

async function startDev() {
  const { createServer } = await import("vite");
  vite = await createServer({ server: { middlewareMode: true }, appType: "custom" });
  const { start } = await vite.ssrLoadModule("./app/main.server.ts");
  return start(process.env, { assets: null, dev: { middleware: vite.middlewares, load: () => vite.ssrLoadModule("virtual:react-router/server-build") } });
}
