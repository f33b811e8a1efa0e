import { randomUUID } from "node:crypto";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import type { Mark } from "#core/layout/mark";
import type { Dress } from "#core/recipe/dress";
import { codeOf, freshRuntime, newMember, serve } from "../../testing/server";
import { sharedRecording } from "../../testing/shared";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import { sweepStorage } from "../jobs/sweep-storage";
import type { Runtime } from "../runtime";

let runtime: Runtime;
let server: Awaited<ReturnType<typeof serve>>;
let orla: SignedIn;
let recording: KnownRecording;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  server = await serve(runtime, new Map([["orla", orla]]));
  recording = await sharedRecording(runtime, orla, "screen", { screen: "numbered", microphone: "chirp" }, 4);
});
afterAll(async () => {
  await server.close();
  await runtime.close();
});

const drawn = (width: number, height: number, format: "png" | "jpeg" | "webp" | "gif" = "png") =>
  sharp({ create: { width, height, channels: 3, background: "#B4502D" } })
    .toFormat(format)
    .toBuffer();
describe("a picture on a recording", () => {
  const at = (path: string, person?: string) =>
    fetch(`${server.base}${path}`, { headers: person ? { "x-person": person } : {} }).then((answer) => answer.status);
  const mark = (id: string): Mark => ({
    tool: "picture",
    colour: "ink",
    path: [0, 0, 0, 0.5, 0.5, 0],
    text: id,
    staysMs: null,
    clearedAt: null,
  });

  it("is there for those who watch while it is on what is published, and at no other time", async () => {
    const { id } = await runtime.pictures.put(recording.id, await drawn(30, 20), orla.id);
    const shown = async () => ((await runtime.pictures.shown(recording.id, id)) ? "shown" : "not");
    expect(await shown()).toBe("not");
    expect((await runtime.pictures.bytes(recording.id, id))?.length).toBeGreaterThan(20);
    expect(await runtime.pictures.bytes(randomUUID(), id)).toBeNull();
    const { kept, revision } = await runtime.editing.stretches(recording.id);
    const [{ from, to }] = kept as [{ from: number; to: number }];
    const dress = (picture: string): Dress => ({ marks: { a: { from, to, mark: mark(picture) } } });
    const ask = (with_: Dress, seen: number) => runtime.editing.ask(recording.id, { kept, dress: with_, seen });
    expect(await codeOf(ask(dress(randomUUID()), revision))).toBe("no-such-picture");
    await ask(dress(id), revision);
    expect(await shown()).toBe("shown");
    expect((await runtime.playback.playable(recording.id, recording.token))!.marks).toMatchObject([
      { id: "a", mark: { tool: "picture", text: id } },
    ]);
    await ask({}, revision + 1);
    expect(await shown()).toBe("not");
    expect(await at(`/w/${recording.token}/pictures/${id}`)).not.toBe(200);
  });

  it("stands for the recording through every edit, until its owner wants another", async () => {
    const sent = await drawn(1_200, 700, "jpeg");
    await runtime.posters.take(recording.id, sent, orla.id);
    const key = async () => (await runtime.db.models.Recording.findByPk(recording.id))!.posterKey;
    const own = await key();
    expect(await sharp(await runtime.storage.get(own!)).metadata()).toMatchObject({ width: 960, format: "jpeg" });
    const { kept, revision } = await runtime.editing.stretches(recording.id);
    await runtime.editing.ask(recording.id, { kept, dress: { fades: { in: 500_000 } }, seen: revision });
    expect(await key()).toBe(own);
    await sweepStorage(runtime.db, runtime.storage, Date.now() + 2 * 86_400_000);
    expect((await runtime.storage.get(own!)).length).toBeGreaterThan(100);
    await runtime.posters.choose(orla, recording.id, 1_000_000);
    expect(await key()).not.toBe(own);
    await expect.poll(key).toMatch(/^posters\//);
  });

  it("are at most so many", async () => {
    const png = await drawn(4, 4);
    await runtime.pictures.put(recording.id, png, orla.id);
    await runtime.db.rows(
      `insert into pictures (id, recording_id, width, height, bytes)
       select gen_random_uuid(), recording_id, width, height, bytes
         from (select * from pictures where recording_id = $1 limit 1) p,
              generate_series(1, 59 - (select count(*)::int from pictures where recording_id = $1)) returning id`,
      [recording.id],
    );
    const codes: unknown[] = [];
    for (let n = 0; n < 2; n++) codes.push(await codeOf(runtime.pictures.put(recording.id, png, orla.id)));
    expect(codes).toEqual(["done", "many-pictures"]);
  });
});
