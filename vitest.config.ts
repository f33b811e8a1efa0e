import { defineConfig } from "vitest/config";

const shared = { testTimeout: 20_000, hookTimeout: 60_000 };

export default defineConfig({
  test: {
    // Two cores: more workers only wait for each other.
    maxWorkers: 2,
    projects: [
      {
        test: {
          ...shared,
          name: "core",
          include: ["{core,capture,app,bin}/**/*.test.{ts,tsx}"],
          exclude: ["**/*.server.test.ts"],
          // A module by its contents, and not by its name.
          server: { deps: { inline: ["@jitsi/rnnoise-wasm"] } },
        },
      },
      {
        test: {
          ...shared,
          name: "server",
          // Every file has a database of its own, and nothing else that another could change.
          isolate: false,
          include: ["{server,demo}/**/*.test.ts", "app/**/*.server.test.ts"],
          globalSetup: ["./testing/postgres.setup.ts"],
        },
      },
    ],
  },
});
