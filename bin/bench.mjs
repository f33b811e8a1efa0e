#!/usr/bin/env node
// `npm run bench [-- --only NAME] [-- --json FILE]`: figures, reported as they come out.
import { spawnSync } from "node:child_process";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { ensureBuild, ensureModules } from "./lib/modules.mjs";
import { ensurePackages } from "./lib/packages.mjs";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
ensurePackages(["postgresql-15", "ffmpeg", "chromium", "nginx-light"]);
ensureModules(root);
ensureBuild(root);
process.exitCode =
  spawnSync("npx", ["--no-install", "tsx", "bench/main.ts", ...process.argv.slice(2)], { stdio: "inherit" }).status ??
  1;
