#!/usr/bin/env node
// `npm run demo:make` draws, speaks and encodes the sample's media anew; `npm run demo:reset` puts the sample back as
// it was.
import { spawnSync } from "node:child_process";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { ensureBuild, ensureModules } from "./lib/modules.mjs";
import { ensurePackages } from "./lib/packages.mjs";

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
const [what, ...rest] = process.argv.slice(2);

if (what === "make") {
  ensurePackages(["ffmpeg", "flite"]);
  ensureModules(root);
  for (const script of ["demo/make.ts", "demo/reference.ts", "demo/music.ts"]) {
    process.exitCode ||= spawnSync("npx", ["--no-install", "tsx", script, ...rest], { stdio: "inherit" }).status ?? 1;
  }
} else if (what === "reset") {
  ensurePackages(process.env.DATABASE_URL ? ["ffmpeg"] : ["postgresql-15", "ffmpeg"]);
  ensureModules(root);
  process.env.NODE_ENV = "production";
  ensureBuild(root);
  const { once, resetDemo } = await import("../build/server/index.js");
  try {
    await once(process.env, async (runtime) => {
      await resetDemo(runtime, join(root, "demo/media"));
    });
    console.log("The sample is as it was.");
  } catch (error) {
    if (error?.constructor?.name !== "StartError") throw error;
    console.error(`\n${error.message}`);
    process.exitCode = 1;
  }
} else {
  console.error("Use: npm run demo:make [-- SLUG ...] | npm run demo:reset");
  process.exitCode = 2;
}
