import { setTimeout as delay } from "node:timers/promises";
import pg from "pg";
import pino from "pino";
import { expect, inject, it, vi } from "vitest";
import { databaseUrlOf, freshRuntime } from "../../testing/server";
import { Queue } from "./queue";

it("stops only when a job that was just being fetched is done and written down", async () => {
  // A database that has the tables, and no queue of its own any more.
  const runtime = await freshRuntime(inject("databaseUrl"));
  const url = databaseUrlOf(runtime);
  await runtime.close();
  const other = new pg.Client({ connectionString: url });
  await other.connect();
  const states = async () =>
    (await other.query("select state from jobs.job where name = 'make-poster'")).rows.map((row) => String(row.state));

  const done: string[] = [];
  const queue = new Queue(url, pino({ level: "silent" }));
  await queue.start({
    "make-poster": async ({ takeId }) => {
      await delay(100);
      done.push(takeId);
    },
    "clear-deleted": async () => undefined,
  });
  await queue.send("make-poster", { takeId: "t1" });
  await vi.waitUntil(async () => (await states()).join() === "completed", 10_000);

  // The same job again, in a transaction that the next fetch has to wait for.
  await other.query("begin");
  await other.query("lock table jobs.job in access exclusive mode");
  await other.query(
    "update jobs.job set state = 'created', started_on = null, completed_on = null where name = 'make-poster'",
  );
  const waiting = async () =>
    (
      await other.query(
        "select 1 from pg_locks where not granted and database = (select oid from pg_database where datname = current_database())",
      )
    ).rowCount! > 0;
  await vi.waitUntil(waiting, 10_000);
  let stopped = false;
  const stopping = queue.stop().then(() => (stopped = true));
  await delay(300);
  expect(stopped).toBe(false);
  await other.query("commit");
  await stopping;
  expect(done).toEqual(["t1", "t1"]);
  expect(await states()).toEqual(["completed"]);
  await expect(queue.send("make-poster", { takeId: "t2" })).rejects.toThrow(/has stopped/);
  await other.end();
});
