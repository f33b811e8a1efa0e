import { setTimeout as delay } from "node:timers/promises";
import pino from "pino";
import { afterAll, beforeAll, expect, inject, it } from "vitest";
import { databaseUrlOf, feedTake, freshRuntime, newMember } from "../../testing/server";
import type { Runtime } from "../runtime";
import { Queue } from "./queue";
import { Goes } from "./turns";

let runtime: Runtime;
beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"), { ROLE: "web" })));
afterAll(() => runtime.close());

it("puts whoever had much lately behind whoever had little, and long work behind the rest", async () => {
  const [much, little] = [await newMember(runtime), await newMember(runtime)];
  const recordings: string[] = [];
  for (const member of [much, much, much, much, little])
    recordings.push((await feedTake(runtime, member, "voice", { microphone: "microphone" }, 4)).recordingId);
  const asked: [string, number][] = [];
  const goes = new Goes(runtime.db, "publications", async (id, behind) => void asked.push([id, behind]));
  for (const id of recordings) {
    await runtime.db.rows(
      "insert into publications (recording_id, id, seen, recipe, state) values ($1, gen_random_uuid(), 1, '{}', 'waiting')",
      [id],
    );
    await goes.ask(id);
  }
  expect(asked.map(([, behind]) => behind)).toEqual([0, 1, 2, 3, 0]);
  // What has not come to its end in a go waits for another one.
  const never = new AbortController().signal;
  asked.length = 0;
  await goes.again(recordings[4]!);
  await goes.again(recordings[4]!);
  expect(asked.map(([, behind]) => behind)).toEqual([1, 2]);
  await goes.go(recordings[4]!, never, () => Promise.resolve());
  await goes.ask(recordings[4]!);
  expect(asked.at(-1)![1]).toBe(0);
  await expect(goes.go(recordings[4]!, never, () => Promise.reject(new Error("broken")))).rejects.toThrow("broken");
});

it("is done in that order", async () => {
  const working = await freshRuntime(inject("databaseUrl"), { ROLE: "web" });
  const quiet = { on: () => undefined, tell: () => Promise.resolve() } as never;
  const queue = new Queue(databaseUrlOf(working), pino({ level: "silent" }), quiet);
  await queue.start(null);
  for (const [recordingId, behind] of [
    ["a1", 0],
    ["a2", 1],
    ["a3", 2],
    ["b1", 0],
  ] as const)
    await queue.send("publish", { recordingId }, { behind });
  await queue.stop();
  const done: string[] = [];
  const worker = new Queue(databaseUrlOf(working), pino({ level: "silent" }), quiet);
  const nothing = () => Promise.resolve();
  await worker.start(
    new Proxy({} as never, {
      get: (_, name) =>
        name === "publish" ? async (data: { recordingId: string }) => void done.push(data.recordingId) : nothing,
    }),
  );
  for (let n = 0; n < 100 && done.length < 4; n++) await delay(100);
  await worker.stop();
  expect(done).toEqual(["a1", "b1", "a2", "a3"]);
  await working.close();
});
