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
import { safePicture } from "./safe-picture";

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
const svg = (body: string) =>
  Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="60" height="40">${body}</svg>`,
  );
const mean = async (bytes: Buffer) => (await sharp(bytes).stats()).channels.slice(0, 3).map((c) => Math.round(c.mean));

describe("a picture that is sent", () => {
  it("is drawn anew, as small as it has to be, of every kind that is taken", async () => {
    for (const format of ["png", "jpeg", "webp"] as const) {
      const made = await (await safePicture(await drawn(3_000, 1_500, format))).as("webp", { within: 1_280 });
      expect([made.width, made.height]).toEqual([1_280, 640]);
      expect(await sharp(made.bytes).metadata()).toMatchObject({ format: "webp", width: 1_280 });
    }
    // As a camera held it, and without where it was.
    const turned = await sharp(await drawn(40, 20))
      .withMetadata({ orientation: 6 })
      .withExif({ IFD0: { Copyright: "Orla Fenn" } })
      .jpeg()
      .toBuffer();
    const made = await (await safePicture(turned)).as("jpeg", { within: 900 });
    expect([made.width, made.height]).toEqual([20, 40]);
    expect((await sharp(made.bytes).metadata()).exif).toBeUndefined();
  });

  it("is pixels alone when it was a drawing: no script, nothing from elsewhere", async () => {
    const hostile = svg(`<script>throw 1</script><rect width="60" height="40" fill="#2F7D5B" onload="x()"/>
      <image xlink:href="file:///etc/passwd" width="60" height="40"/><image href="http://127.0.0.1:9/x.png" width="60" height="40"/>`);
    const { bytes } = await (await safePicture(hostile)).as("webp", { within: 100 });
    const colours = await mean(bytes);
    [47, 125, 91].forEach((value, i) => expect(Math.abs(colours[i]! - value)).toBeLessThan(4));
    expect(bytes.includes("script")).toBe(false);
  });

  it("is refused when it is none, damaged, or a bomb", async () => {
    const refused = async (bytes: Uint8Array) => codeOf(safePicture(bytes).then((p) => p.as("webp", { within: 500 })));
    expect(await refused(new Uint8Array())).toBe("no-picture");
    expect(await refused(Buffer.from("<html></html>"))).toBe("no-picture");
    expect(await refused(await drawn(8, 8, "gif"))).toBe("no-picture");
    const png = await drawn(400, 400);
    expect(await refused(png.subarray(0, png.length - 60))).toBe("picture-not-drawn");
    const huge = Buffer.from('<svg xmlns="http://www.w3.org/2000/svg" width="90000" height="90000"/>');
    expect(["no-picture", "picture-not-drawn"]).toContain(await refused(huge));
    const laughs = Buffer.from(`<?xml version="1.0"?><!DOCTYPE s [<!ENTITY a "ha"><!ENTITY b "${"&a;".repeat(99)}">
      <!ENTITY c "${"&b;".repeat(99)}"><!ENTITY d "${"&c;".repeat(99)}">]>
      <svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><text>${"&d;".repeat(99)}</text></svg>`);
    expect(["no-picture", "picture-not-drawn"]).toContain(await refused(laughs));
    for (let n = 0; n < 40; n++) {
      const noise = Buffer.concat([
        png.subarray(0, 20 + n),
        Buffer.from(Array.from({ length: 60 }, (_, i) => (i * n * 37) & 255)),
      ]);
      expect(["no-picture", "picture-not-drawn"]).toContain(await refused(noise));
    }
  });
});

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
    const { id } = await runtime.pictures.put(recording.id, await drawn(30, 20));
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
    await runtime.posters.take(recording.id, sent);
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
    const codes: unknown[] = [];
    for (let n = 0; n < 61; n++) codes.push(await codeOf(runtime.pictures.put(recording.id, png)));
    expect([codes[0], codes.at(-1)]).toEqual(["done", "many-pictures"]);
  });
});
