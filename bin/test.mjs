#!/usr/bin/env node
// `npm test`: everything, on a machine that has only Node 20 and npm. Its last line adds up the tests of all runners.
import { spawnSync } from "node:child_process";
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { ensureBuild, ensureModules } from "./lib/modules.mjs";
import { ensurePackages, installPackages } from "./lib/packages.mjs";

/** characters */
const MOST_OF_A_PAGE = 6_000;

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
ensurePackages(["postgresql-15", "ffmpeg", "chromium", "chromium-headless-shell", "xvfb", "nginx-light"]);
// Another browser plays what is published, where it can be had: the tests that need it are there or not.
if (!installPackages(["firefox-esr"])) console.log("Without Firefox its test is left out.");
ensureModules(root);

// Own port, own data: a running `npm start` is left alone, and so are its settings.
const dir = mkdtempSync(join(tmpdir(), "clear-nod-run-"));
chmodSync(dir, 0o711);
const env = { ...process.env, TEST_PORT: String(await freePort()), TEST_DATA_DIR: join(dir, "data") };
for (const name of ["PORT", "DATA_DIR", "DATABASE_URL", "STORAGE_URL", "PUBLIC_URL"]) delete env[name];

let passed = 0;
let failed = 0;
const count = (name, good, bad) => {
  passed += good;
  failed += bad;
  console.log(`${name}: ${good} passed, ${bad} failed\n`);
};
const run = (name, args, more = {}) => {
  console.log(`--- ${name}`);
  return (
    spawnSync("npx", ["--no-install", ...args], { stdio: ["ignore", "inherit", "inherit"], env: { ...env, ...more } })
      .status === 0
  );
};
const check = (name, ...commands) => {
  const ok = commands.every((args) => run(name, args));
  count(name, ok ? 1 : 0, ok ? 0 : 1);
};

check(
  "lint",
  ["prettier", "--check", "--log-level=warn", "."],
  ["eslint", "."],
  ["depcruise", "core", "capture", "server", "demo", "app"],
);
check("types", ["react-router", "typegen"], ["tsc"], ["tsc", "-p", "app/shell"]);

const unit = join(dir, "unit.json");
const unitOk = run("unit and server tests", [
  "vitest",
  "run",
  "--reporter=dot",
  "--reporter=json",
  `--outputFile.json=${unit}`,
]);
const u = readReport(unit);
count("unit and server tests", u?.numPassedTests ?? 0, Math.max(u?.numFailedTests ?? 1, unitOk ? 0 : 1));

ensureBuild(root);
const browser = join(dir, "browser.json");
const browserOk = run("browser tests", ["playwright", "test"], { TEST_REPORT: browser });
const b = readReport(browser)?.stats;
count(
  "browser tests",
  b?.expected ?? 0,
  Math.max((b?.unexpected ?? 1) + (b?.flaky ?? 0) + (b?.skipped ?? 0), browserOk ? 0 : 1),
);

for (const page of pagesOfFailures()) console.log(page);

rmSync(dir, { recursive: true, force: true });
process.exitCode = failed === 0 ? 0 : 1;
console.log(`${passed} passed, ${failed} failed`);

function readReport(file) {
  return existsSync(file) ? JSON.parse(readFileSync(file, "utf8")) : null;
}

/** What stood on the pages of browser tests that failed: where nobody can look at the files, it is all there is. */
function pagesOfFailures() {
  const results = "test-results";
  if (browserOk || !existsSync(results)) return [];
  return readdirSync(results)
    .map((name) => join(results, name, "error-context.md"))
    .filter((file) => existsSync(file))
    .slice(0, 3)
    .map((file) => `--- ${file}\n${readFileSync(file, "utf8").slice(0, MOST_OF_A_PAGE)}\n`);
}

function freePort() {
  return new Promise((done) => {
    const probe = createServer().listen(0, "127.0.0.1", () => {
      const { port } = probe.address();
      probe.close(() => done(port));
    });
  });
}
