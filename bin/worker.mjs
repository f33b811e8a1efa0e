// The process that does the jobs, beside the one of `npm start` that answers requests. That one starts it, and tells it
// when to end.

// Ctrl-C reaches every process of a terminal: when this one ends is decided by the other.
for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => undefined);
// The other one was killed. Whatever is in hand is done again by the next worker.
process.on("disconnect", () => process.exit(1));

const told = new Promise((done) => process.once("message", done));
const { start } = await import("../build/server/index.js");
try {
  const running = await start(process.env, { assets: null, dev: null, demo: null, besides: [], worker: null });
  await told;
  await running.stop();
  process.exit(0);
} catch (error) {
  console.error(error?.constructor?.name === "StartError" ? error.message : error);
  process.exit(1);
}
