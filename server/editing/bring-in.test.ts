import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import { shownBy } from "#core/recipe/history";
import { leftOut, lengthOf } from "#core/recipe/edits";
import { frameAt, momentOf } from "#core/recipe/frames";
import { startOfTake } from "#core/recipe/source-line";
import { pictureNumbers, soundSamples } from "../../testing/media";
import { codeOf, colleagueOf, freshRuntime, newMember, serve } from "../../testing/server";
import { sharedRecording, watching } from "../../testing/shared";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import { sweepStorage } from "../jobs/sweep-storage";
import type { Runtime } from "../runtime";

const SECONDS = 6;
const RATE = 30;
let runtime: Runtime;
let server: Awaited<ReturnType<typeof serve>>;
let orla: SignedIn;
let here: KnownRecording;
let other: KnownRecording;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  server = await serve(runtime, new Map([["orla", orla]]));
  here = await recorded();
  other = await recorded();
});
afterAll(async () => {
  await server.close();
  await runtime.close();
});

const recorded = (member = orla) =>
  sharedRecording(runtime, member, "screen", { screen: "numbered", microphone: "chirp" }, SECONDS);
const { played } = watching(() => server.base);
async function published(id: string): Promise<number> {
  await vi.waitUntil(async () => (await runtime.editing.state(id))?.state !== "waiting", 60_000);
  expect(await runtime.editing.state(id)).toMatchObject({ state: "published", problem: null });
  return (await runtime.editing.stretches(id)).revision;
}
async function cutOut(id: string, from: number, to: number) {
  const { kept, revision } = await runtime.editing.stretches(id);
  const stretch = { from: momentOf(from), to: momentOf(to) };
  await runtime.editing.ask(id, { kept: leftOut(kept, stretch), seen: revision });
  return published(id);
}
async function publishDraft(id: string) {
  const draft = (await runtime.drafts.of(id))!;
  await runtime.drafts.publish(id, draft);
  return published(id);
}
async function stored(): Promise<string[]> {
  const keys = [];
  for await (const { key } of runtime.storage.list("takes")) keys.push(key);
  return keys.sort();
}
const bring = (to: KnownRecording, from: KnownRecording, version = 0, at: number | null = null) =>
  runtime.bringIn.bring(to, { from: from.id, version, at });

describe("another recording that is brought in", () => {
  it("stands in the draft as it is shown, and is played from the same bytes when that is published", async () => {
    await cutOut(other.id, 30, 60);
    // Edges are made beside.
    const recordedParts = async () => (await stored()).filter((key) => /\/\d+-[^/]+m4s$/.test(key));
    const before = await recordedParts();
    await bring(here, other, 0, momentOf(60));
    const { takes, revision, kept } = await runtime.editing.stretches(here.id);
    expect([takes.map(({ brought }) => brought ?? false), revision, kept.length]).toEqual([[false, true], 1, 1]);
    const draft = (await runtime.drafts.of(here.id))!;
    const second = startOfTake(2);
    expect(shownBy(draft.history).kept.slice(0, 3)).toEqual([
      { from: 0, to: momentOf(60) },
      { from: second, to: second + momentOf(30) },
      { from: second + momentOf(60), to: expect.any(Number) as number },
    ]);
    expect(await recordedParts()).toEqual(before);

    const number = await publishDraft(here.id);
    const screen = await played(here, `r${number}/screen.m3u8`);
    const all = shownBy(draft.history).kept;
    // Each picture shows its number in its take; the last one is held while its sound ends.
    const wanted = all.flatMap(({ from, to }) =>
      Array.from({ length: frameAt(to - from) }, (_, n) => (frameAt(from) + n) % frameAt(second)),
    );
    const each = pictureNumbers(screen.file).filter((n, i, numbers) => n !== numbers[i - 1]);
    expect(each).toEqual(wanted.filter((n) => n < SECONDS * RATE));
    const samples = soundSamples((await played(here, `r${number}/microphone.m3u8`)).file).length / 48_000;
    expect(Math.abs(samples - lengthOf(all) / 1e6)).toBeLessThan(0.1);
  });

  it("stays when the one it came from is erased, and goes with the last that has it", async () => {
    const takesOf = async (id: string) =>
      (await runtime.db.models.Take.findAll({ where: { recordingId: id }, order: ["position"] })).map((t) => t.id);
    const [first] = await takesOf(other.id);
    const [own, brought] = await takesOf(here.id);
    // Brought on from here, it is of the same objects.
    const third = await recorded();
    await bring(third, here);
    expect(await runtime.db.models.Take.count({ where: { mediaOf: first } })).toBe(2);
    await runtime.erase(other.id);
    const twoDaysOn = Date.now() + 2 * 24 * 3600 * 1000;
    await sweepStorage(runtime.db, runtime.storage, twoDaysOn);
    const { revision } = await runtime.editing.stretches(here.id);
    const screen = await played(here, `r${revision}/screen.m3u8`);
    expect(pictureNumbers(screen.file).length).toBeGreaterThan(SECONDS * RATE);
    // What was made for the other one alone is gone.
    expect((await stored()).some((key) => key.startsWith(`takes/${first}/`) && /\/-\d+-/.test(key))).toBe(false);

    await runtime.erase(here.id);
    const left = await stored();
    expect(left.some((key) => key.startsWith(`takes/${brought}/`))).toBe(false);
    expect(left.filter((key) => key.startsWith(`takes/${first}/`)).length).toBeGreaterThan(3);
    expect(left.filter((key) => key.startsWith(`takes/${own}/`)).length).toBeGreaterThan(3);
    await runtime.erase(third.id);
    const after = await stored();
    expect(after.some((key) => [first, own, brought].some((id) => key.startsWith(`takes/${id}/`)))).toBe(false);
  });

  it("is refused where it cannot be, and then nothing is changed", async () => {
    const [to, from] = [await recorded(), await recorded()];
    expect(await codeOf(bring(to, to))).toBe("same-recording");
    expect(await codeOf(bring(to, from, 3))).toBe("other-draft");
    const growing = await runtime.takes.start(orla, { source: "voice", title: "Ridge", audience: "owner" });
    expect(await codeOf(runtime.bringIn.bring(to, { from: growing.recordingId, version: 0, at: null }))).toBe(
      "take-open",
    );
    // Another workspace's room is not filled from here.
    expect(
      await codeOf(runtime.bringIn.bring({ ...to, workspaceId: from.id }, { from: from.id, version: 0, at: null })),
    ).toBe("no-such-recording");
    const room = { minutes: 0, gigabytes: 1 };
    await runtime.rooms.set(orla, room);
    const { Take } = runtime.db.models;
    await Take.update({ bytes: 2e9 }, { where: { recordingId: from.id } });
    expect(await codeOf(bring(to, from))).toBe("workspace-full");
    await runtime.rooms.set(orla, { minutes: 0, gigabytes: 0 });
    expect(await Take.count({ where: { recordingId: to.id } })).toBe(1);
    expect(await runtime.drafts.of(to.id)).toBeNull();

    // Asked twice with the same answer lost: the second one is told that it was done.
    expect(await codeOf(bring(to, from))).toBe("done");
    expect(await codeOf(bring(to, from))).toBe("other-draft");
    // Both at once, each into the other: neither waits for the other for ever.
    const pair = [await recorded(), await recorded()] as const;
    const both = await Promise.all([codeOf(bring(pair[0], pair[1])), codeOf(bring(pair[1], pair[0]))]);
    expect(both).toEqual(["done", "done"]);
    for (let n = 2; n < 48; n++) await bring(to, pair[0], n - 1).catch(() => null);
    expect(await codeOf(bring(to, pair[0], (await runtime.drafts.of(to.id))!.version))).toBe("too-many-takes");
  });

  it("is chosen among one's own that are here", async () => {
    const bram = await colleagueOf(runtime, orla);
    const theirs = await recorded(bram);
    const mine = await recorded();
    const ids = async (words: string) => (await runtime.bringIn.choices(orla, mine.id, words)).map(({ id }) => id);
    expect(await ids("")).not.toContain(theirs.id);
    expect(await ids("")).not.toContain(mine.id);
    const before = await ids("");
    const another = await recorded();
    expect(await ids("")).toEqual([another.id, ...before].slice(0, 30));
    await runtime.library.rename(orla, another.id, "100 % putty_knife", 1);
    expect(await ids("0 % putty_")).toEqual([another.id]);
    expect(await ids("%ridge")).toEqual([]);
    const { status } = await fetch(`${server.base}/recordings/${mine.id}/bring-in`).catch(() => ({ status: 404 }));
    expect(status).not.toBe(200);
  });
});
