// npm packages from the lock file, and the production build; both only when something changed.
import { spawnSync } from "node:child_process";
import { createHash } from "node:crypto";
import { existsSync, readFileSync, readdirSync, statSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { compressFiles } from "./compress.mjs";

const STAMP = "node_modules/.clear-nod-lock";
const BUILD_STAMP = "build/.sources";
const SOURCES = [
  "app",
  "capture",
  "core",
  "server",
  "demo",
  "bin/main.ts",
  "public",
  "package-lock.json",
  "vite.config.ts",
  "react-router.config.ts",
];

export function ensureModules(root) {
  const lock = createHash("sha256")
    .update(readFileSync(join(root, "package-lock.json")))
    .digest("hex");
  const stamp = join(root, STAMP);
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === lock) return;
  console.log("Installing npm packages ...");
  must(root, "npm", ["ci", "--no-audit", "--no-fund", "--loglevel=error"]);
  writeFileSync(stamp, lock);
}

export function ensureBuild(root) {
  const now = sourcesOf(root);
  const stamp = join(root, BUILD_STAMP);
  if (existsSync(stamp) && readFileSync(stamp, "utf8") === now) return;
  console.log("Building ...");
  must(root, "npx", ["react-router", "build", "--logLevel", "error"], { NODE_ENV: "production" });
  compressFiles(join(root, "build/client"));
  writeFileSync(stamp, now);
}

/** A fingerprint of everything that goes into the build: names, sizes and times of change. */
function sourcesOf(root) {
  const hash = createHash("sha256");
  const walk = (path) => {
    const stat = statSync(join(root, path));
    if (stat.isDirectory()) for (const name of readdirSync(join(root, path)).sort()) walk(`${path}/${name}`);
    else hash.update(`${path} ${stat.size} ${stat.mtimeMs}\n`);
  };
  SOURCES.forEach(walk);
  return hash.digest("hex");
}

function must(cwd, program, args, env = {}) {
  const { status } = spawnSync(program, args, {
    cwd,
    stdio: ["ignore", "inherit", "inherit"],
    env: { ...process.env, ...env },
  });
  if (status !== 0) {
    console.error(`\n${program} ${args.join(" ")} failed (exit ${status}). See above.`);
    process.exit(1);
  }
}
