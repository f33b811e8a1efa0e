#!/usr/bin/env node
// `npm test`: everything, on a machine that has only Node 20 and npm. Its last line adds up the tests of all runners.
// `npm test -- --changed`: what imports files that differ from the last commit, and browser tests that differ.
import { spawn, spawnSync } from "node:child_process";
import { chmodSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { dirname, join } from "node:path";
import { fileURLToPath } from "node:url";
import { ensureModules } from "./lib/modules.mjs";
import { ensurePackages, installPackages } from "./lib/packages.mjs";

/** characters */
const MOST_OF_A_PAGE = 6_000;

const root = join(dirname(fileURLToPath(import.meta.url)), "..");
process.chdir(root);
ensurePackages(["postgresql-15", "pgbouncer", "ffmpeg", "chromium", "chromium-headless-shell", "xvfb", "nginx-light"]);
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
/** What failed, in a line or two each: where only the end of all this is kept, it is there. */
const wrong = [];
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
/** One command after the other beside other checks, until one fails; what they said comes when all is over. */
const check = async (name, ...commands) => {
  const said = [];
  let ok = true;
  for (const [program, ...args] of commands) {
    ok &&= await new Promise((done) => {
      const child = spawn(program, args, { stdio: ["ignore", "pipe", "pipe"], env });
      for (const stream of [child.stdout, child.stderr])
        stream.setEncoding("utf8").on("data", (part) => said.push(part));
      child.once("error", () => done(false)).once("close", (code) => done(code === 0));
    });
  }
  console.log(`--- ${name}\n${ok ? "" : said.join("")}`);
  count(name, ok ? 1 : 0, ok ? 0 : 1);
};
const npx = (...args) => ["npx", "--no-install", ...args];
/** Files that have not changed since they were looked at are not looked at again. */
const CACHE = "node_modules/.cache/clear-nod";
const changed = process.argv.includes("--changed");

await Promise.all([
  check(
    "lint",
    npx("prettier", "--check", "--log-level=warn", "--cache", `--cache-location=${CACHE}/prettier`, "."),
    npx("eslint", "--cache", `--cache-location=${CACHE}/eslint`, "."),
    npx("depcruise", "core", "capture", "server", "demo", "app"),
  ),
  check(
    "build and types",
    ["node", "bin/build.mjs"],
    npx("react-router", "typegen"),
    npx("tsc", "--incremental", "--tsBuildInfoFile", `${CACHE}/types.tsbuildinfo`),
    npx("tsc", "-p", "app/shell"),
  ),
]);

const unit = join(dir, "unit.json");
const unitOk = run("unit and server tests", [
  "vitest",
  "run",
  "--reporter=dot",
  "--reporter=json",
  `--outputFile.json=${unit}`,
  ...(changed ? ["--changed"] : []),
]);
const u = readReport(unit);
for (const { assertionResults } of u?.testResults ?? [])
  for (const { status, fullName, failureMessages } of assertionResults)
    if (status === "failed") wrong.push(`${fullName}: ${failureMessages.join(" ").slice(0, 300)}`);
count("unit and server tests", u?.numPassedTests ?? 0, Math.max(u?.numFailedTests ?? 1, unitOk ? 0 : 1));

// Two at once where that harms nothing, and then those that need the processor for themselves.
for (const project of ["light", "exact"]) {
  const browser = join(dir, `${project}.json`);
  const args = [
    "playwright",
    "test",
    `--project=${project}`,
    ...(changed ? ["--only-changed", "--pass-with-no-tests"] : []),
  ];
  const ok = run(`browser tests, ${project}`, args, { TEST_REPORT: browser });
  const b = readReport(browser)?.stats;
  count(
    `browser tests, ${project}`,
    b?.expected ?? 0,
    Math.max((b?.unexpected ?? 1) + (b?.flaky ?? 0) + (b?.skipped ?? 0), ok ? 0 : 1),
  );
  for (const page of pagesOfFailures(ok)) console.log(page);
  if (!ok) wrong.push(...failuresIn(readReport(browser)?.suites ?? []));
}

rmSync(dir, { recursive: true, force: true });
process.exitCode = failed === 0 ? 0 : 1;
for (const line of wrong) console.log(`failed: ${line}`);
console.log(`${passed} passed, ${failed} failed`);

function readReport(file) {
  return existsSync(file) ? JSON.parse(readFileSync(file, "utf8")) : null;
}

/** Tests within suites within suites, as Playwright reports them. */
function failuresIn(suites) {
  return suites.flatMap(({ specs, suites: within = [] }) => [
    ...specs
      .filter(({ ok }) => !ok)
      .map(({ file, line, title, tests }) => {
        const said = tests.flatMap(({ results }) => results.map(({ error }) => error?.message ?? "")).join(" ");
        return `${file}:${line} ${title}: ${said.slice(0, 500)}`;
      }),
    ...failuresIn(within),
  ]);
}

/** What stood on the pages of browser tests that failed: where nobody can look at the files, it is all there is. */
function pagesOfFailures(ok) {
  const results = "test-results";
  if (ok || !existsSync(results)) return [];
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
