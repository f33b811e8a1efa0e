import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { buffer } from "node:stream/consumers";
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import { Browser } from "../../testing/answers";
import { joinBytes, makeTrack, probePackets } from "../../testing/media";
import { filesOf } from "../../testing/zip";
import { colleagueOf, feed, feedTake, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";
import type { Storage } from "../storage/storage";
import { fileName } from "../http/file-name";
import { archiveOf, type ArchiveFile } from "./archive";
import { Everything } from "./everything";

describe("an archive", () => {
  const file = (name: string, read: ArchiveFile["read"]): ArchiveFile => ({ name, at: new Date(), packs: true, read });

  it("is read by others, one file after the other", async () => {
    const read: string[] = [];
    const made = (name: string, words: string) =>
      file(name, async function* () {
        read.push(name);
        yield words;
        yield Buffer.from("!");
      });
    const archive = await buffer(archiveOf([made("a.txt", "one"), made("ä/b “c”.txt", "two".repeat(1_000))]));
    const files = await filesOf(archive);
    expect([...files].map(([name, bytes]) => [name, bytes.length])).toEqual([
      ["a.txt", 4],
      ["ä/b “c”.txt", 3_001],
    ]);
    expect(read).toEqual(["a.txt", "ä/b “c”.txt"]);
  });

  it("is read no faster than it is taken, and no more once nobody takes it", async () => {
    const seen = { pieces: 0, ended: false };
    const archive = archiveOf([
      {
        ...{ name: "large", at: new Date(), packs: false },
        read: async function* () {
          try {
            for (; seen.pieces < 10_000; seen.pieces++) yield Buffer.alloc(64 * 1024, seen.pieces);
          } finally {
            seen.ended = true;
          }
        },
      },
    ]);
    await new Promise((taken) => archive.once("readable", taken));
    await new Promise((later) => setTimeout(later, 300));
    expect(seen.pieces).toBeLessThan(100);
    archive.destroy();
    await expect.poll(() => seen.ended).toBe(true);
  });

  it("breaks off where a file cannot be read, so that nobody takes it for whole", async () => {
    const broken = file("x", async function* () {
      yield "some";
      throw new Error("gone");
    });
    await expect(buffer(archiveOf([broken, file("y", async function* () {})]))).rejects.toThrow("gone");
  });

  it.each([
    ["Ridge: vent / 2\\3?", "Ridge vent 2 3"],
    ["...", "Untitled"],
    ["con\u0000trol\n", "con trol"],
    ["x".repeat(80), "x".repeat(60)],
    ["../../etc/passwd", ".. .. etc passwd"],
  ])("names a file of %j on any computer", (title, name) => expect(fileName(title)).toBe(name));
});

describe("everything of somebody", () => {
  let runtime: Runtime;
  let orla: SignedIn;
  let bram: SignedIn;
  beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"))));
  beforeEach(async () => {
    orla = await newMember(runtime);
    bram = await colleagueOf(runtime, orla);
  });
  afterAll(() => runtime.close());

  const take = async (by: SignedIn, title: string) => {
    const { recordingId } = await feedTake(runtime, by, "voice", { microphone: "microphone" }, 4, title);
    await runtime.sharing.change(by, recordingId, { audience: "workspace" });
    return recordingId;
  };
  const everythingOf = async (member: SignedIn) => filesOf(await buffer(await runtime.everything.of(member)));
  const textOf = (files: Map<string, Buffer>, name: RegExp) =>
    [...files].find(([file]) => name.test(file))![1].toString();

  it("is what they made, as it was recorded, and what they said; and nothing of anybody else", async () => {
    const recordingId = await take(orla, "Ridge vent");
    const theirs = await take(bram, "Oil for the hinges");
    const visitor = await new Browser(runtime, (await runtime.access.byId(theirs))!, orla).visit();
    await visitor.say({ do: "comment", body: "Which oil?", at: 1_000_000, until: null });
    const guest = await new Browser(runtime, (await runtime.access.byId(recordingId))!, bram).visit();
    await guest.say({ do: "comment", body: "Which vent?", at: 1_000_000, until: null });

    const files = await everythingOf(orla);
    const names = [...files.keys()].map((name) => name.replace(/\d{4}-\d\d-\d\d|[\da-f]{8}(?=\/)/g, "*"));
    expect(names).toEqual([
      "READ ME.txt",
      "account.json",
      "said.json",
      "opened.json",
      "recordings/* Ridge vent */recording.json",
      "recordings/* Ridge vent */asked.json",
      "recordings/* Ridge vent */captions.vtt",
      "recordings/* Ridge vent */comments.json",
      "recordings/* Ridge vent */viewing.json",
      "recordings/* Ridge vent */take 1 microphone.mp4",
    ]);
    expect(JSON.parse(textOf(files, /account/))).toMatchObject({ name: orla.name, email: orla.email });
    expect(JSON.parse(textOf(files, /said/))).toMatchObject([
      { what: "comment", recording: theirs, seconds: 1, said: "Which oil?" },
    ]);
    expect(JSON.parse(textOf(files, /opened/))).toMatchObject([{ recording: theirs }]);
    expect(JSON.parse(textOf(files, /recording\.json/))).toMatchObject({ id: recordingId, title: "Ridge vent" });
    expect(textOf(files, /comments/)).toContain("Which vent?");
    expect(JSON.parse(textOf(files, /viewing/))).toBeInstanceOf(Array);
    const everything = Buffer.concat([...files.values()]).toString();
    for (const other of ["Oil for the hinges", bram.email, "passwordHash", "secret"])
      expect(everything.includes(other), other).toBe(false);
    // Outside check: ffmpeg finds every packet of the track, and decodes it.
    const sound = [...files].find(([name]) => name.endsWith(".mp4"))![1];
    expect(probePackets(sound).packets).toBeGreaterThan(100);
    const path = join(mkdtempSync(join(tmpdir(), "mine-")), "sound.mp4");
    writeFileSync(path, sound);
    const args = ["-v", "error", "-show_entries", "format=duration", "-of", "csv=p=0", path];
    expect(Number(execFileSync("ffprobe", args))).toBeCloseTo(4, 0);
  });

  it("is whole where something was edited, and tells what was asked, who answered, and where it lies", async () => {
    const { recordingId } = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 8, "Cut");
    await runtime.sharing.change(orla, recordingId, { audience: "workspace" });
    const whole = (await runtime.db.models.Segment.findAll({ where: {} })).length;
    await runtime.editing.ask(recordingId, { kept: [{ from: 1_300_000, to: 5_700_000 }], seen: 1 });
    await expect
      .poll(async () => (await runtime.editing.state(recordingId))?.state, { timeout: 30_000 })
      .toBe("published");
    expect((await runtime.db.models.Segment.findAll({ where: {} })).length).toBeGreaterThan(whole);
    const range = { from: 500_000, to: 1_500_000 };
    const captions = [{ ...range, text: "Under the pot." }];
    await runtime.db.models.Recording.update({ captions }, { where: { id: recordingId } });
    const roof = await runtime.folders.make(orla, { name: "Roof", parentId: null });
    const vents = await runtime.folders.make(orla, { name: "Vents", parentId: roof });
    await runtime.folderContents.put(orla, { recordings: [recordingId], to: vents, open: false });
    await runtime.invites.add(recordingId, `Bram Lark <${bram.email}>; Hester Quill`);
    const ask = { kind: "nod", question: "Is it clear?", choices: [], due: null };
    await runtime.db.models.Ask.upsert({ recordingId, ...ask } as never);
    const colleague = await new Browser(runtime, (await runtime.access.byId(recordingId))!, bram).visit();
    await colleague.say({ do: "answer", answer: { kind: "nod" }, version: 1 });

    const files = await everythingOf(orla);
    expect(JSON.parse(textOf(files, /recording\.json/))).toMatchObject({
      folders: ["Roof", "Vents"],
      captions: [{ take: 1, seconds: 0.5, to: 1.5, text: "Under the pot." }],
    });
    // What others are shown has no words of what was cut.
    expect(textOf(files, /captions/)).not.toContain("pot");
    const asked = JSON.parse(textOf(files, /asked/)) as { ask: object; people: Record<string, unknown>[] };
    expect(asked.ask).toMatchObject({ kind: "nod", question: "Is it clear?" });
    expect(asked.people.map(({ name, asked, answer }) => [name, asked, answer])).toEqual([
      [bram.name, true, { kind: "nod" }],
      ["Hester Quill", true, null],
    ]);
    // Outside check: ffmpeg finds as many packets in it as were sent.
    const sound = [...files].find(([name]) => name.endsWith(".mp4"))![1];
    const { init, segments } = makeTrack("microphone", 8);
    expect(probePackets(sound).packets).toBe(probePackets(joinBytes(init, ...segments)).packets);
  });

  it("has nothing of a take that was thrown away, which goes when all goes that is deleted", async () => {
    const { recordingId } = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 4, "Two");
    const { takeId } = await runtime.takes.another(recordingId, "voice");
    await feed(runtime, takeId, { microphone: "microphone" }, 4);
    await runtime.takes.discard(takeId);
    const names = [...(await everythingOf(orla)).keys()].filter((name) => name.endsWith(".mp4"));
    expect(names.map((name) => name.split("/").at(-1))).toEqual(["take 1 microphone.mp4"]);
    const stored = async () => {
      const keys: string[] = [];
      for await (const { key } of runtime.storage.list(`takes/${takeId}`)) keys.push(key);
      return keys.length;
    };
    const bytes = async () => (await runtime.db.models.Take.findByPk(takeId))!.bytes;
    await runtime.discarded.clear(new Date(Date.now() - 60_000));
    expect([(await stored()) > 0, (await bytes())! > 0]).toEqual([true, true]);
    // At once, where its sender says so; of another recording nothing goes.
    expect(await runtime.discarded.of(recordingId)).toMatchObject({ count: 1 });
    await runtime.discarded.clear(new Date(Date.now() + 60_000), crypto.randomUUID());
    expect(await bytes()).toBeGreaterThan(0);
    await runtime.discarded.clear(new Date(Date.now() + 60_000), recordingId);
    expect([await stored(), await bytes()]).toEqual([0, 0]);
    expect(await runtime.discarded.of(recordingId)).toBeNull();
    expect((await runtime.editing.stretches(recordingId)).takes).toHaveLength(1);
  });

  it("leaves out what is erased while it is written, and goes on", async () => {
    await take(orla, "Stays");
    const recordingId = await take(orla, "Gone");
    // The sound of the first is slow to come.
    let come = () => {};
    const slow = new Promise<void>((resolve) => (come = resolve));
    const read = (key: string) => slow.then(() => runtime.storage.read(key));
    const storage = Object.create(runtime.storage, { read: { value: read } }) as Storage;
    const archive = await new Everything({ ...runtime, storage }, "https://nod.test").of(orla);
    await runtime.library.delete(orla, recordingId);
    await runtime.library.erase(orla, recordingId);
    come();
    const files = await filesOf(await buffer(archive));
    expect(textOf(files, /Gone.*recording\.json/)).toBe("");
    expect(textOf(files, /Gone.*mp4/)).toBe("");
    expect(JSON.parse(textOf(files, /Stays.*recording\.json/))).toMatchObject({ title: "Stays" });
  });

  it("is an archive where there is nothing", async () => {
    expect([...(await everythingOf(await newMember(runtime))).keys()]).toEqual([
      "READ ME.txt",
      "account.json",
      "said.json",
      "opened.json",
    ]);
  });
});
