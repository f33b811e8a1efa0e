import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import { feedTake, freshRuntime, newMember } from "../../testing/server";
import type { Runtime } from "../runtime";
import { sweepStorage } from "./sweep-storage";

let runtime: Runtime;
beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"))));
afterAll(() => runtime.close());

const TWO_DAYS_ON = () => Date.now() + 2 * 24 * 3600 * 1000;
async function keys(): Promise<string[]> {
  const out: string[] = [];
  for (const prefix of ["takes", "posters", "other"]) {
    for await (const { key } of runtime.storage.list(prefix)) out.push(key);
  }
  return out.sort();
}

describe("sweeping the storage", () => {
  it("removes what no row names and none can name any more, and nothing else", async () => {
    const orla = await newMember(runtime);
    const whole = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 4);
    const growing = await runtime.takes.start(orla, { source: "voice", title: "Sashes", audience: "owner" });
    // Its poster is made by itself, and is one of those that stay.
    const { Recording } = runtime.db.models;
    await vi.waitUntil(async () => (await Recording.findByPk(whole.recordingId))?.posterKey, 30_000);
    const there = await keys();
    expect(there.length).toBeGreaterThan(2);
    const put = async (key: string) => {
      await runtime.storage.put(key, Buffer.from("x"));
      return key;
    };
    const left = [
      await put(`takes/${whole.takeId}/microphone/99-0123456789abcdef.m4s`),
      await put(`takes/${whole.takeId}/microphone/1-0123456789abcdef.m4s`),
      await put(`takes/${whole.takeId}/screen/init-0123456789abcdef.mp4`),
      await put(`takes/${randomUUID()}/screen/1-0123456789abcdef.m4s`),
      await put(`posters/${randomUUID()}/0123456789abcdef.jpg`),
      // That of a revision before: the recording has none now.
      await put(`posters/${whole.recordingId}/0123456789abcdef.jpg`),
    ];
    const kept = [
      // Its row may be on its way for as long as its take is open.
      await put(`takes/${growing.takeId}/microphone/1-0123456789abcdef.m4s`),
      // Not ours to judge.
      await put("takes/read.me"),
      await put("other/thing"),
    ];
    expect(await sweepStorage(runtime.db, runtime.storage)).toBe(0);
    expect(await sweepStorage(runtime.db, runtime.storage, TWO_DAYS_ON())).toBe(left.length);
    expect(await keys()).toEqual([...there, ...kept].sort());
  });
});
