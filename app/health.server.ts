import type { IncomingMessage, ServerResponse } from "node:http";
import { sendJson } from "#server/http/send";
import { maySeeMetrics } from "#server/metrics";
import type { Runtime } from "#server/runtime";

/** Longer than this nobody waits to hear that something is ready. */
const WITHIN_MS = 3_000;

/**
 * Is this process alive (`/healthz`), and can it do its work (`/readyz`: database, storage, not about to end)? Asked by
 * whatever runs it, by any name, and told nothing that others may not know. How it fares (`/metrics`) is told to who
 * has the token for that; to others there is nothing.
 * @returns whether it was one of the three
 */
export async function answerHealth(runtime: Runtime, req: IncomingMessage, res: ServerResponse): Promise<boolean> {
  const path = (req.url ?? "").split("?", 1)[0];
  if (path === "/healthz") sendJson(res, 200, { status: "ok" });
  else if (path === "/readyz") {
    const wrong = await whyNotReady(runtime);
    if (wrong) res.setHeader("retry-after", "2");
    sendJson(res, wrong ? 503 : 200, { status: wrong ?? "ok" });
  } else if (path === "/metrics" && maySeeMetrics(runtime.settings.metricsToken, req.headers.authorization)) {
    res.writeHead(200, { "content-type": runtime.metrics.contentType, "cache-control": "no-store" });
    res.end(await runtime.metrics.text());
  } else return false;
  return true;
}

/** What was found out a moment ago: however often it is asked, the database is asked ten times a second at most. */
const known = new WeakMap<Runtime, { at: number; wrong: Promise<string | null> }>();
const KNOWN_MS = 100;

async function whyNotReady(runtime: Runtime): Promise<string | null> {
  if (runtime.stopping) return "stopping";
  if (!runtime.db.reachable) return "no-database";
  let found = known.get(runtime);
  if (!found || Date.now() - found.at > KNOWN_MS) {
    found = { at: Date.now(), wrong: lookedAt(runtime) };
    known.set(runtime, found);
  }
  return found.wrong;
}

async function lookedAt(runtime: Runtime): Promise<string | null> {
  if (!(await within(() => runtime.db.rows("select 1")))) return "no-database";
  return (await within(() => runtime.storage.ready())) ? null : "no-storage";
}

/** Does it come to its end, in time? */
async function within(work: () => Promise<unknown>): Promise<boolean> {
  let timer: NodeJS.Timeout | undefined;
  const late = new Promise<boolean>((done) => (timer = setTimeout(() => done(false), WITHIN_MS)));
  const done = work().then(
    () => true,
    () => false,
  );
  return Promise.race([done, late]).finally(() => clearTimeout(timer));
}
