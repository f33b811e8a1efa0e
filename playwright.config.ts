import { defineConfig } from "@playwright/test";

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

export default defineConfig({
  metadata: { dataDir },
  testDir: "e2e",
  // Recording encodes in real time on two cores: one browser at a time.
  workers: 1,
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
    launchOptions: {
      executablePath: process.env.TEST_BROWSER ?? "/usr/bin/chromium",
      chromiumSandbox: process.getuid?.() !== 0,
      args: [
        ...flags,
        "--use-fake-ui-for-media-stream",
        "--use-fake-device-for-media-stream",
        "--autoplay-policy=no-user-gesture-required",
      ],
    },
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
