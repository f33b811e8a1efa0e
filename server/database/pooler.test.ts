import { spawn, type ChildProcess } from "node:child_process";
import { chmodSync, existsSync, mkdtempSync, readFileSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, expect, inject, it, vi } from "vitest";
import { databaseUrlOf, feedTake, freshRuntime, newMember } from "../../testing/server";
import { openRuntime, type Runtime } from "../runtime";

let pooler: ChildProcess;
let runtime: Runtime;
let log: string;

const freePort = () =>
  new Promise<number>((done) => {
    const server = createServer().listen(0, "127.0.0.1", () => {
      const { port } = server.address() as { port: number };
      server.close(() => done(port));
    });
  });

/** Outside check: Debian's PgBouncer in transaction mode, with fewer connections than there is work at once. */
async function openPooler(url: URL): Promise<string> {
  const dir = mkdtempSync(join(tmpdir(), "pooler-"));
  chmodSync(dir, 0o777);
  const port = await freePort();
  const [file, name] = [join(dir, "pooler.ini"), url.pathname.slice(1)];
  log = join(dir, "log");
  const to = `host=${url.hostname} port=${url.port} user=${url.username} password=${decodeURIComponent(url.password)}`;
  const settings = {
    listen_addr: "127.0.0.1",
    listen_port: port,
    auth_type: "any",
    pool_mode: "transaction",
    default_pool_size: 3,
    max_client_conn: 200,
    logfile: log,
    unix_socket_dir: "",
  };
  const lines = Object.entries(settings).map(([key, value]) => `${key} = ${value}`);
  writeFileSync(file, ["[databases]", `${name} = ${to}`, "[pgbouncer]", ...lines, ""].join("\n"));
  chmodSync(file, 0o644);
  // It refuses to run as root, as PostgreSQL does.
  const root = process.getuid!() === 0;
  const user = root && readFileSync("/etc/passwd", "utf8").match(/^postgres:[^:]*:(\d+):(\d+)/m);
  const as = user ? { uid: Number(user[1]), gid: Number(user[2]) } : {};
  pooler = spawn("pgbouncer", [file], { ...as, stdio: "ignore" });
  return `postgres://${url.username}@127.0.0.1:${port}/${name}`;
}

beforeAll(async () => {
  const first = await freshRuntime(inject("databaseUrl"), { ROLE: "web" });
  const direct = databaseUrlOf(first);
  await first.close();
  const url = await openPooler(new URL(direct));
  const isUp = () => existsSync(log) && readFileSync(log, "utf8").includes("process up");
  await vi.waitUntil(isUp, { timeout: 20_000, interval: 50 });
  runtime = await openRuntime({ ...first.settings, role: "all", databaseDirectUrl: direct }, url);
}, 60_000);
afterAll(async () => {
  await runtime?.close();
  pooler?.kill("SIGINT");
});

it("records, does its jobs, and tells other processes, by connections that are lent for a transaction", async () => {
  const orla = await newMember(runtime);
  const take = await feedTake(runtime, orla, "screen", { screen: "screen", microphone: "microphone" }, 4);
  const row = () => runtime.db.models.Recording.findByPk(take.recordingId, { attributes: ["posterKey"] });
  await expect.poll(async () => (await row())!.posterKey, { timeout: 30_000 }).not.toBeNull();
  // More at once than there are connections; what is asked for is right however they are lent.
  const titles = await Promise.all(
    Array.from({ length: 40 }, async (_, n) => {
      const { recordingId } = await runtime.takes.start(orla, { source: "voice", title: `No ${n}`, audience: "owner" });
      return (await runtime.library.details(recordingId)).title;
    }),
  );
  expect(titles).toEqual(Array.from({ length: 40 }, (_, n) => `No ${n}`));
  const known = await runtime.access.byId(take.recordingId);
  expect(known!.audience).toBe("owner");
  await runtime.sharing.change(orla, take.recordingId, { audience: "anyone" });
  await expect.poll(async () => (await runtime.access.byId(take.recordingId))!.audience).toBe("anyone");
});

it("has the settings of a session on every connection that is lent", async () => {
  const settings = await Promise.all(
    Array.from({ length: 12 }, () =>
      runtime.db.rows<{ jit: string; limit: string; zone: string }>(
        `select current_setting('jit') as jit, current_setting('statement_timeout') as limit,
                current_setting('timezone') as zone, pg_sleep(0.05)::text`,
      ),
    ),
  );
  for (const [row] of settings) expect(row).toMatchObject({ jit: "off", limit: "1min" });
});
