import { EventEmitter } from "node:events";
import { setTimeout as delay } from "node:timers/promises";
import pg from "pg";
import pino from "pino";
import { beforeEach, expect, inject, it, vi } from "vitest";
import { databaseUrlOf, freshRuntime } from "../../testing/server";
import type { Channel, Notice } from "../live/channel";
import { Queue } from "./queue";

/** Notices between two queues, as the database carries them. */
const wire = new EventEmitter();
const channel = {
  on: (name: "notice", listener: (notice: Notice) => void) => wire.on(name, listener),
  tell: async (notice: Notice) => void wire.emit("notice", notice),
} as unknown as Channel;

const nothing = async () => undefined;
/** Connections of a queue, and how often it looks for each kind of job. */
const CONNECTIONS = 4;
const POLL_MS = 500;
const NOTHING = {
  "take-ended": nothing,
  shown: nothing,
  erased: nothing,
  "go-on": nothing,
  tell: nothing,
  retain: nothing,
  "clear-deleted": nothing,
  "sweep-storage": nothing,
  publish: nothing,
  prepare: nothing,
  "look-over": nothing,
  mail: nothing,
  suppress: nothing,
  film: nothing,
  "send-out": nothing,
  hooks: nothing,
};
/** a database that has the tables, and no queue of its own any more */
let url: string;
beforeEach(async () => {
  const runtime = await freshRuntime(inject("databaseUrl"));
  url = databaseUrlOf(runtime);
  await runtime.close();
});

it("stops only when a job that was just being fetched is done and written down", async () => {
  const other = new pg.Client({ connectionString: url });
  await other.connect();
  const states = async () =>
    (await other.query("select state from jobs.job where name = 'make-poster'")).rows.map((row) => String(row.state));

  const done: string[] = [];
  const queue = new Queue(url, pino({ level: "silent" }), channel);
  await queue.start({
    "make-poster": async ({ recordingId }) => {
      await delay(100);
      done.push(recordingId);
    },
    ...NOTHING,
  });
  await queue.send("make-poster", { recordingId: "t1" });
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
    ).rowCount! >= CONNECTIONS;
  await vi.waitUntil(waiting, 10_000);
  // Every connection waits; by now so does every kind of job, some of them for a connection.
  await delay(4 * POLL_MS);
  let stopped = false;
  const stopping = queue.stop().then(() => (stopped = true));
  await delay(300);
  expect(stopped).toBe(false);
  await other.query("commit");
  await stopping;
  expect(done).toEqual(["t1", "t1"]);
  expect(await states()).toEqual(["completed"]);
  await expect(queue.send("make-poster", { recordingId: "t2" })).rejects.toThrow(/has stopped/);
  await other.end();
});

it("asks once for what waits already, and once more for what is being done", async () => {
  const log = pino({ level: "silent" });
  const sender = new Queue(url, log, channel);
  await sender.start(null);
  for (const recordingId of ["t1", "t1", "t2", "t1"]) await sender.send("make-poster", { recordingId });
  const done: string[] = [];
  let goOn = () => {};
  const begun = new Promise<void>((open) => (goOn = open));
  let first = true;
  const worker = new Queue(url, log, channel);
  await worker.start({
    ...NOTHING,
    "make-poster": async ({ recordingId }) => {
      if (first) {
        first = false;
        goOn();
        await sender.send("make-poster", { recordingId });
      }
      done.push(recordingId);
    },
  });
  await begun;
  await vi.waitUntil(() => done.length === 3, 10_000);
  await worker.stop();
  await sender.stop();
  expect(done.sort()).toEqual(["t1", "t1", "t2"]);
});

it("tells running work, also in another process, that nobody wants it any more, and does not do it again", async () => {
  const log = pino({ level: "silent" });
  const [sender, worker] = [new Queue(url, log, channel), new Queue(url, log, channel)];
  await sender.start(null);
  const begun: string[] = [];
  let broken = 0;
  await worker.start({
    ...NOTHING,
    "make-poster": ({ recordingId }, signal) => {
      begun.push(recordingId);
      return new Promise((_, failed) => {
        signal.addEventListener("abort", () => {
          broken++;
          failed(signal.reason as Error);
        });
      });
    },
  });
  await sender.send("make-poster", { recordingId: "t1" });
  await vi.waitUntil(() => begun.length === 1, 10_000);
  await sender.cancel("make-poster", { recordingId: "t1" });
  await vi.waitUntil(() => broken === 1, 10_000);
  await sender.send("make-poster", { recordingId: "t2" });
  await vi.waitUntil(() => begun.includes("t2"), 10_000);
  expect(begun).toEqual(["t1", "t2"]);
  // What is still being done at the end of the process is broken off in time.
  await worker.stop();
  expect(broken).toBe(2);
  // And only that is done again: what was cancelled is over.
  const client = new pg.Client({ connectionString: url });
  await client.connect();
  const { rows } = await client.query(
    "select data ->> 'recordingId' as id, state from jobs.job where name = 'make-poster'",
  );
  await client.end();
  expect(Object.fromEntries(rows.map((row: { id: string; state: string }) => [row.id, row.state]))).toEqual({
    t1: "cancelled",
    t2: "retry",
  });
  await sender.stop();
}, 30_000);

it("does what follows from a transaction with it or not at all, and each of it", async () => {
  const runtime = await freshRuntime(inject("databaseUrl"), { ROLE: "web" });
  const queue = new Queue(databaseUrlOf(runtime), pino({ level: "silent" }), channel);
  const shown: string[] = [];
  await queue.start({
    ...NOTHING,
    "make-poster": nothing,
    shown: async ({ recordingId }) => void shown.push(recordingId),
  });
  const { sequelize } = runtime.db;
  const broken = sequelize.transaction(async (transaction) => {
    await queue.follow(transaction, "shown", { recordingId: "never" });
    throw new Error("given up");
  });
  await expect(broken).rejects.toThrow("given up");
  // While the one before waits, another one is asked for all the same: it may be done before this one is to be seen.
  for (const recordingId of ["a", "a", "b"])
    await sequelize.transaction((transaction) => queue.follow(transaction, "shown", { recordingId }));
  await vi.waitUntil(() => shown.length === 3, 15_000);
  expect(shown.sort()).toEqual(["a", "a", "b"]);
  await queue.stop();
  await runtime.close();
});
