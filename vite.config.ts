import { reactRouter } from "@react-router/dev/vite";
import { defineConfig, type Plugin } from "vite";
import { programsPlugin } from "./bin/lib/programs-plugin";
import { shellPlugin } from "./bin/lib/shell-plugin";

// The server bundle starts at bin/main.ts, so that the plain handlers (ingest, media) and
// React Router's loaders share one set of modules, one connection pool and one cache.
/**
 * The player's own code stands in one chunk without React: the served watch page runs it first, and everything else
 * after it. What it shares with other pages stands apart, so that they do not load the player. Days of zones are not
 * with it: they bring a library, and with that what other pages run.
 */
function chunkOf(id: string): string | undefined {
  if (/\/(?:hls\.js|app\/player\/(?:early|layer|open-layer|hls-layer|native-layer|player|place)\.ts)/.test(id))
    return "player";
  if (/\/(?:core\/(?:time\/(?!days)|sync\/|state\/|answers\/fragment)|app\/kept\.ts)/.test(id)) return "time";
  // What every page needs, in one request.
  if (
    /\/node_modules\/(?:react|react-dom|react-router|scheduler|cookie|@emotion|stylis|notistack|clsx|goober)\//.test(id)
  )
    return "frame";
  return undefined;
}

/** A font that comes late waits for the next page: words that are read already would move to other places. */
const fontsPlugin = (): Plugin => ({
  name: "fonts-at-once",
  enforce: "pre",
  transform: (code, id) =>
    /\/@fontsource[^/]*\/.+\.css$/.test(id)
      ? { code: code.replaceAll("font-display: swap", "font-display: optional"), map: null }
      : null,
});

export default defineConfig({
  plugins: [reactRouter(), fontsPlugin(), shellPlugin(), programsPlugin()],
  build: { target: "es2022" },
  environments: {
    // What is smaller than a request is worth comes with something larger: a page asks for fifty files instead of 75.
    client: { build: { rollupOptions: { output: { manualChunks: chunkOf, experimentalMinChunkSize: 3_000 } } } },
    ssr: { build: { rollupOptions: { input: "./bin/main.ts" } } },
  },
  // Development only: what the server room uses is never bundled for the browser.
  optimizeDeps: {
    include: ["mediabunny", "hls.js/light", "idb"],
    exclude: [
      "@node-rs/argon2",
      "compression",
      "express",
      "fontkit",
      "joi",
      "pg",
      "pg-boss",
      "pino",
      "rate-limiter-flexible",
      "sequelize",
      "sharp",
      "umzug",
    ],
  },
  worker: { format: "es" },
  ssr: { noExternal: [/^@mui\//, "@jitsi/rnnoise-wasm"] },
});
