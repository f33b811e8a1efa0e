import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { USUAL_WISHES } from "#core/desk/wishes";
import type { Entry } from "#core/layout/entry";
import { wrongField } from "../../testing/forms";
import { makeTrack } from "../../testing/media";
import { colleagueOf, feed, feedTake, freshRuntime, newMember, sha256 } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import { entriesForm, putEntries } from "../recordings/entries";
import type { Runtime } from "../runtime";
import { saveSetUpForm } from "./set-ups";

let runtime: Runtime;
let orla: SignedIn;
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
});
afterAll(() => runtime.close());

describe("set-ups", () => {
  const survey = { name: "Weekly survey", wishes: { ...USUAL_WISHES, countIn: "10" as const }, isFirst: true };

  it("are kept under a name, written over by it, and one of them is the first", async () => {
    const { setUps } = runtime;
    await setUps.save(orla.id, survey);
    await setUps.save(orla.id, { ...survey, name: "Client walk-through", wishes: USUAL_WISHES });
    await setUps.save(orla.id, { ...survey, name: "weekly SURVEY", isFirst: false });
    const list = await setUps.list(orla.id);
    expect(list.map(({ name, isFirst }) => [name, isFirst])).toEqual([
      ["Client walk-through", true],
      ["weekly SURVEY", false],
    ]);
    expect(list[1]!.wishes).toEqual(survey.wishes);
  });

  it("are everybody's own", async () => {
    const bram = await colleagueOf(runtime, orla);
    const { setUps } = runtime;
    const [first] = await setUps.list(orla.id);
    await setUps.remove(bram.id, first!.id);
    expect(await setUps.list(bram.id)).toEqual([]);
    expect(await setUps.list(orla.id)).toHaveLength(2);
    await setUps.remove(orla.id, first!.id);
    expect(await setUps.list(orla.id)).toHaveLength(1);
  });

  it("are twenty at the most, one of them the first, however many are kept at once", async () => {
    const ida = await newMember(runtime, "Ida Crake");
    const saved = await Promise.allSettled(
      Array.from({ length: 25 }, (_, i) => runtime.setUps.save(ida.id, { ...survey, name: `Set-up ${i}` })),
    );
    const refused = saved.filter((s) => s.status === "rejected");
    expect(refused).toHaveLength(5);
    for (const { reason } of refused as PromiseRejectedResult[]) expect(reason).toMatchObject({ status: 422 });
    const list = await runtime.setUps.list(ida.id);
    expect([list.length, list.filter((s) => s.isFirst).length]).toEqual([20, 1]);
  });

  it.each([
    ["no JSON", "{"],
    ["nothing", "null"],
    ["a part", JSON.stringify({ source: "screen" })],
    ["another source", JSON.stringify({ ...USUAL_WISHES, source: "satellite" })],
    ["a word for a flag", JSON.stringify({ ...USUAL_WISHES, cues: "yes" })],
    ["too much", JSON.stringify({ ...USUAL_WISHES, more: "x".repeat(5_000) })],
  ])("%s is refused", (_, wishes) => {
    expect(wrongField(saveSetUpForm, { name: "Survey", wishes })).toBe("wishes");
  });
  it("without a name is refused, and what is unknown in it is left out", () => {
    const wishes = JSON.stringify({ ...USUAL_WISHES, admin: true });
    expect(saveSetUpForm.validate({ name: " ", wishes }).error!.message).toBe("Give the set-up a name.");
    expect(saveSetUpForm.validate({ name: "Survey", wishes }).value.wishes).toEqual(USUAL_WISHES);
  });
});

describe("room", () => {
  const TRACKS = { screen: "screen" } as const;

  it("counts what takes hold, while they grow and when they are whole", async () => {
    const ida = await newMember(runtime, "Ida Crake");
    const { used } = await runtime.rooms.of(ida.workspaceId, true);
    expect(used).toBe(0);
    const { segments } = makeTrack("screen", 6);
    const bytes = segments.reduce((sum, s) => sum + s.length, 0);
    await feedTake(runtime, ida, "screen", TRACKS, 6, "Ridge");
    expect((await runtime.rooms.of(ida.workspaceId, true)).used).toBe(bytes);
    // Nobody needs it where there is no limit.
    expect((await runtime.rooms.of(ida.workspaceId)).used).toBe(0);
    const take = await runtime.takes.start(ida, { source: "screen", title: "Growing", audience: "owner" });
    const { init } = makeTrack("screen", 6);
    await runtime.ingest.putInit(take.takeId, "screen", Buffer.from(init), sha256(init));
    await runtime.ingest.putSegment(take.takeId, "screen", 1, Buffer.from(segments[0]!), sha256(segments[0]!));
    expect((await runtime.rooms.of(ida.workspaceId, true)).used).toBe(bytes + segments[0]!.length);
  });

  it("is set by owners, and a workspace that is full records nothing more", async () => {
    const ida = await newMember(runtime, "Ida Crake");
    const bram = await colleagueOf(runtime, ida);
    await expect(runtime.rooms.set(bram, { minutes: 5, gigabytes: 1 })).rejects.toMatchObject({ status: 403 });
    await runtime.rooms.set(ida, { minutes: 5, gigabytes: 1 });
    expect(await runtime.rooms.of(ida.workspaceId)).toEqual({ longestUs: 300_000_000, most: 1e9, used: 0 });
    const { recordingId } = await feedTake(runtime, ida, "screen", TRACKS, 4, "Ridge");
    await runtime.db.models.Workspace.update({ storageBytes: 10 }, { where: { id: ida.workspaceId } });
    const full = { status: 409, code: "workspace-full" };
    const start = runtime.takes.start(bram, { source: "screen", title: "One more", audience: "owner" });
    await expect(start).rejects.toMatchObject(full);
    await expect(runtime.takes.another(recordingId, "screen")).rejects.toMatchObject(full);
    await runtime.rooms.set(ida, { minutes: 0, gigabytes: 0 });
    expect(await runtime.rooms.of(ida.workspaceId)).toMatchObject({ longestUs: null, most: null });
  });

  it("takes nothing that lies beyond the longest take, but for what was on its way", async () => {
    const ida = await newMember(runtime, "Ida Crake");
    await runtime.rooms.set(ida, { minutes: 5, gigabytes: 0 });
    const { takeId } = await runtime.takes.start(ida, { source: "voice", title: "Long", audience: "owner" });
    const { init, segments } = makeTrack("aac", 390);
    await runtime.ingest.putInit(takeId, "microphone", Buffer.from(init), sha256(init));
    const each = 390 / segments.length;
    const put = (n: number) =>
      runtime.ingest.putSegment(takeId, "microphone", n, Buffer.from(segments[n - 1]!), sha256(segments[n - 1]!));
    expect(await put(Math.floor(350 / each))).toBe("created");
    await expect(put(Math.ceil(370 / each))).rejects.toMatchObject({ status: 422, code: "too-long" });
  });
});

it("keeps what a recording is about, written before and after", async () => {
  const { recordingId } = await runtime.takes.start(orla, {
    source: "screen",
    title: "Ridge",
    audience: "owner",
    description: "North slope",
    tags: ["roof"],
  });
  const { library } = runtime;
  expect(await library.details(recordingId)).toMatchObject({ description: "North slope", tags: ["roof"] });
  const first = { description: "North slope", tags: ["roof"] };
  const next = { description: "", tags: ["roof", "putty"] };
  await library.describe(orla, recordingId, next, first);
  // The same again, after an answer that was lost; what another window has written meanwhile is not lost.
  await library.describe(orla, recordingId, next, first);
  const late = library.describe(orla, recordingId, { description: "South slope", tags: [] }, first);
  await expect(late).rejects.toMatchObject({ status: 409, code: "changed-meanwhile" });
  expect(await library.details(recordingId)).toMatchObject(next);
  const bram = await colleagueOf(runtime, orla);
  const about = { description: "Mine", tags: [] };
  await expect(library.describe(bram, recordingId, about, next)).rejects.toMatchObject({ status: 404 });
});

describe("talking points", () => {
  const note = (at: number, what: string, text: string, version = 1, id = randomUUID()) => ({
    id,
    version,
    kind: "note",
    at,
    body: { what, text },
  });

  it("of all takes are proposed as chapters, and become them when that is wanted", async () => {
    const { recordingId, takeId } = await runtime.takes.start(orla, {
      source: "screen",
      title: "Ridge",
      audience: "owner",
    });
    const taken = note(3_000_000, "point", "Said by mistake");
    const entries = [
      note(4_000_000, "point", "Putty"),
      note(1_000_000, "point", "Panes"),
      note(2_000_000, "mistake", ""),
      note(5_000_000, "still", ""),
      { ...taken, version: 2, body: null },
    ];
    const { value, error } = entriesForm.validate({ entries });
    expect(error).toBeUndefined();
    await putEntries(runtime.db, takeId, [taken as Entry]);
    await putEntries(runtime.db, takeId, value.entries);
    await feed(runtime, takeId, { screen: "screen" }, 6);
    const { library } = runtime;
    const chapters = [
      { at: 1_000_000, title: "Panes" },
      { at: 4_000_000, title: "Putty" },
    ];
    expect(await library.noted(recordingId)).toEqual({ chapters, stills: [5_000_000] });
    expect((await library.details(recordingId)).chapters).toEqual([]);
    const bram = await colleagueOf(runtime, orla);
    await expect(library.takeChapters(bram, recordingId)).rejects.toMatchObject({ status: 404 });
    await library.takeChapters(orla, recordingId);
    expect((await library.details(recordingId)).chapters).toEqual(chapters);
  });

  it.each([
    ["of another kind", "body", { ...note(0, "point", "Panes"), kind: "scene" }],
    ["of no known sort", "body", note(0, "joke", "Panes")],
    ["too long", "body", note(0, "point", "x".repeat(161))],
    ["before the take", "at", note(-1, "point", "Panes")],
    ["without a text", "body", { ...note(0, "point", ""), body: { what: "point" } }],
  ])("%s are refused, naming the %s", (_, field, entry) =>
    expect(wrongField(entriesForm, { entries: [entry] })).toContain(`entries.0.${field}`),
  );
});
