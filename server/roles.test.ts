import { expect, inject, it, vi } from "vitest";
import { databaseUrlOf, feedTake, freshRuntime, newMember } from "../testing/server";
import { openBucket } from "../testing/bucket";
import { openRuntime } from "./runtime";

it("a web process leaves the work to workers, any number of them, over one database and one bucket", async () => {
  const first = await freshRuntime(inject("databaseUrl"));
  const url = databaseUrlOf(first);
  await first.close();
  const bucket = await openBucket();
  const settings = { ...first.settings, storageUrl: bucket.url };
  const web = await openRuntime({ ...settings, role: "web" }, url);
  const orla = await newMember(web);
  const take = await feedTake(web, orla, "screen", { screen: "screen", microphone: "microphone" }, 4);
  const posters = () => web.db.models.Recording.findAll({ attributes: ["posterKey"] });
  const waiting = async () =>
    (await web.db.rows<{ state: string }>("select state from jobs.job where name = 'make-poster'")).map((j) => j.state);
  // Asked for when its first picture came and when it was complete; nobody here does it.
  expect(await waiting()).toEqual(["created"]);

  const workers = await Promise.all([1, 2].map(() => openRuntime({ ...settings, role: "worker" }, url)));
  await vi.waitUntil(async () => (await posters())[0]!.posterKey !== null, 20_000);
  expect((await web.storage.get((await posters())[0]!.posterKey!)).subarray(0, 2)).toEqual(Buffer.from([0xff, 0xd8]));
  // What plays comes out of the bucket as well, and many who ask at once are one read.
  const get = vi.spyOn(web.storage, "get");
  const { key } = await web.playback.file(take.recordingId, 1, "screen", "1.m4s");
  const all = await Promise.all(Array.from({ length: 50 }, () => web.playback.bytes(key)));
  expect([get.mock.calls.length, new Set(all).size]).toEqual([1, 1]);

  await web.library.delete(orla, take.recordingId);
  await web.library.erase(orla, take.recordingId);
  for await (const { key } of web.storage.list("takes")) expect.unreachable(key);
  await Promise.all([web, ...workers].map((runtime) => runtime.close()));
  await bucket.close();
}, 60_000);
