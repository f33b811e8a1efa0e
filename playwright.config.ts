import { defineConfig, type LaunchOptions } from "@playwright/test";

const port = Number(process.env.TEST_PORT ?? 5191);
const dataDir = process.env.TEST_DATA_DIR ?? ".data-test";
const flags = [
  "--disable-gpu",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
];

/**
 * What needs the processor to itself, because it looks at moments, sounds and pictures to the frame; or a whole
 * browser: tabs that are shared, windows above all others, what a browser remembers. The others run two at once, in
 * Debian's headless shell of the same browser, which draws no windows.
 */
const EXACT = (
  "area back cameras change check codes content flash floating layers lens lost native path push recover rehearsal " +
  "scenes screen shell start suppression tab takes"
)
  .split(" ")
  .map((name) => `${name}.spec.ts`);

function launched(executablePath: string): LaunchOptions {
  return {
    executablePath,
    chromiumSandbox: process.getuid?.() !== 0,
    args: [
      ...flags,
      "--use-fake-ui-for-media-stream",
      "--use-fake-device-for-media-stream",
      "--autoplay-policy=no-user-gesture-required",
    ],
  };
}

export default defineConfig({
  metadata: { dataDir },
  testDir: "e2e",
  projects: [
    {
      name: "light",
      testIgnore: EXACT,
      workers: 2,
      use: { launchOptions: launched("/usr/bin/chromium-headless-shell") },
    },
    { name: "exact", testMatch: EXACT, workers: 1, use: { launchOptions: launched("/usr/bin/chromium") } },
  ],
  workers: 2,
  fullyParallel: false,
  // A bound for what hangs, not a budget: on a machine that is busy with other things everything takes its time.
  timeout: 240_000,
  expect: { timeout: 30_000 },
  forbidOnly: true,
  reporter: process.env.TEST_REPORT ? [["list"], ["json", { outputFile: process.env.TEST_REPORT }]] : [["list"]],
  use: {
    baseURL: `http://localhost:${port}`,
    // It would answer in place of what a test takes away; the test about it allows it.
    serviceWorkers: "block",
    viewport: { width: 1280, height: 800 },
    // Colours are judged as they stand, not half-way through a change.
    contextOptions: { reducedMotion: "reduce" },
    permissions: ["camera", "microphone", "clipboard-read", "clipboard-write"],
  },
  globalTeardown: "./e2e/teardown.ts",
  webServer: {
    // Everything it says is looked through in the end, for what must not be in a log.
    command: `exec node bin/start.mjs > ${dataDir}.log 2>&1`,
    url: `http://localhost:${port}/healthz`,
    timeout: 360_000,
    gracefulShutdown: { signal: "SIGTERM", timeout: 10_000 },
    env: { PORT: String(port), DATA_DIR: dataDir, LOG_LEVEL: "debug" },
  },
});
