#!/usr/bin/env node
// `npm start` and `npm run dev`: from a bare machine to a running server, with nothing that is done twice.
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { ensureBuild, ensureModules } from "./lib/modules.mjs";
import { ensurePackages } from "./lib/packages.mjs";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
const media = join(root, "demo/media");
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
  const { url, demo, besides } = await running;
  if (url === null) console.log("\nA worker of Clear Nod is running.\nCtrl-C stops it.\n");
  else announce(url, demo, besides);
} catch (error) {
  if (stopping) process.exit(0);
  if (error?.constructor?.name !== "StartError") throw error;
  console.error(`\n${error.message}`);
  await vite?.close();
  process.exit(1);
}

function announce(url, demo, besides) {
  const people = demo
    .map(({ name, email, password, role }) => `  ${name.padEnd(12)} ${email.padEnd(26)} ${password}   (${role})`)
    .join("\n");
  const outside = besides.map(({ what, url }) => `${what}: ${url}\n`).join("");
  const sample =
    demo.length > 0
      ? `The sample practice is loaded; sign in at ${url}/sign-in with one press, or as\n${people}\n${outside}Your own workspace: `
      : "Sign in: open ";
  console.log(`\nClear Nod is at ${url}\n${sample}${url}/sign-up, or the account you made.\nCtrl-C stops it.\n`);
}

async function startProduction() {
  const { start, loadDemo, besides } = await import("../build/server/index.js");
  return start(process.env, {
    assets: join(root, "build/client"),
    dev: null,
    demo: (runtime) => loadDemo(runtime, media),
    besides,
    worker: join(root, "bin/worker.mjs"),
  });
}

async function startDev() {
  const { createServer } = await import("vite");
  vite = await createServer({ server: { middlewareMode: true }, appType: "custom" });
  const { start, loadDemo, besides } = await vite.ssrLoadModule("./bin/main.ts");
  return start(process.env, {
    assets: null,
    demo: (runtime) => loadDemo(runtime, media),
    besides,
    // One process, so that what is changed is loaded anew.
    worker: null,
    dev: { middleware: vite.middlewares, load: () => vite.ssrLoadModule("virtual:react-router/server-build") },
  });
}
