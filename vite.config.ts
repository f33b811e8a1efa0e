import { reactRouter } from "@react-router/dev/vite";
import { defineConfig } from "vite";

// The server bundle starts at app/main.server.ts, so that the plain handlers (ingest, media) and
// React Router's loaders share one set of modules, one connection pool and one cache.
export default defineConfig(({ isSsrBuild }) => ({
  plugins: [reactRouter()],
  build: {
    target: "es2022",
    rollupOptions: isSsrBuild ? { input: "./app/main.server.ts" } : {},
  },
  // Development only: what the server room uses is never bundled for the browser.
  optimizeDeps: {
    include: ["mediabunny", "hls.js", "idb"],
    exclude: ["@node-rs/argon2", "compression", "express", "joi", "pg", "pg-boss", "pino", "rate-limiter-flexible", "sequelize", "sharp", "umzug"],
  },
  worker: { format: "es" },
  ssr: { noExternal: [/^@mui\//] },
}));
