import { spawn } from "node:child_process";
import { once } from "node:events";
import { chmodSync, mkdtempSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { expect, test } from "./test";
import { PASSWORD } from "./steps";

const TOKEN = "a-token-of-whoever-runs-it";
/** Four that answer, two that do the jobs, and what stands beside the sample. */
const PORTS = 8;

/** The first of so many ports in a row that nobody has. */
async function freePorts(): Promise<number> {
  const isFree = (port: number) =>
    new Promise<boolean>((done) => {
      const server = createServer()
        .once("error", () => done(false))
        .listen(port, "127.0.0.1", () => server.close(() => done(true)));
    });
  for (let first = 20_000 + (process.pid % 20_000); ; first += PORTS) {
    const free = await Promise.all(Array.from({ length: PORTS }, (_, n) => isFree(first + n)));
    if (free.every(Boolean)) return first;
  }
}

test("six processes on one database start, know each other's sessions, tell how they fare, and end together", async () => {
  const dir = mkdtempSync(join(tmpdir(), "clear-nod-cluster-"));
  chmodSync(dir, 0o711);
  const first = await freePorts();
  const at = (n: number, path: string) => `http://localhost:${first + n}${path}`;
  const env = { ...process.env, PORT: String(first), DATA_DIR: join(dir, "data"), METRICS_TOKEN: TOKEN };
  const cluster = spawn("node", ["bin/cluster.mjs"], {
    env: { ...env, DATABASE_URL: "", DEMO: "off", LOG_LEVEL: "warn" },
    stdio: ["ignore", "pipe", "pipe"],
  });
  let said = "";
  for (const stream of [cluster.stdout, cluster.stderr]) stream.on("data", (part: Buffer) => (said += part.toString()));
  try {
    await expect.poll(() => said, { timeout: 120_000 }).toContain("All 6 are ready");
    const form = { name: "Orla Fenn", workspace: "Fenn", email: "orla@glasshouse.test", password: PASSWORD };
    const signedUp = await fetch(at(0, "/sign-up"), {
      method: "POST",
      body: new URLSearchParams(form),
      redirect: "manual",
    });
    expect(signedUp.status).toBe(302);
    const cookie = signedUp.headers
      .getSetCookie()
      .map((c) => c.split(";")[0])
      .join("; ");
    for (const n of [1, 2, 3])
      expect(await (await fetch(at(n, "/library"), { headers: { cookie } })).text()).toContain("Your library is empty");
    // How each of them fares is told to who has the token, and to nobody else.
    for (let n = 0; n < 6; n++) {
      const metrics = await fetch(at(n, "/metrics"), { headers: { authorization: `Bearer ${TOKEN}` } });
      expect(metrics.headers.get("content-type")).toContain("version=0.0.4");
      expect(await metrics.text()).toMatch(/clear_nod_database_connections\{state="open"\} \d/);
      expect((await fetch(at(n, "/metrics"))).status).toBe(404);
    }
  } finally {
    const ended = once(cluster, "exit");
    cluster.kill("SIGTERM");
    expect((await ended)[0], said).toBe(0);
    rmSync(dir, { recursive: true, force: true });
  }
  expect(said).not.toMatch(/ended with|unhandled/i);
});
