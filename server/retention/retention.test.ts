import { afterAll, beforeAll, expect, inject, it } from "vitest";
import { Browser, sharedRecording } from "../../testing/answers";
import { colleagueOf, databaseUrlOf, freshRuntime, newMember } from "../../testing/server";
import { lastDay } from "#core/retention/retention";
import type { SignedIn } from "../accounts/sessions";
import { openRuntime, type Runtime } from "../runtime";

const DAY = 24 * 3_600_000;
const ago = (days: number) => new Date(Date.now() - days * DAY);

let runtime: Runtime;
let orla: SignedIn;
let suri: SignedIn;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"), { ROLE: "web" });
  orla = await newMember(runtime);
  suri = await colleagueOf(runtime, orla, "Suri Vale");
});
afterAll(() => runtime.close());

const run = () => runtime.retention.run(AbortSignal.timeout(20_000));
const row = async (id: string) => (await runtime.db.models.Recording.findByPk(id))!;
const waits = (id: string) => runtime.db.models.InboxItem.count({ where: { recordingId: id, kind: "unused" } });
/** A recording of Suri's that was made, published and looked at so many days ago. */
async function old(title: string, days: number): Promise<string> {
  const { id } = await sharedRecording(runtime, suri, title);
  const at = ago(days);
  await runtime.db.models.Recording.update({ createdAt: at, usedAt: at }, { where: { id } });
  await runtime.db.models.Revision.update({ publishedAt: at }, { where: { recordingId: id } });
  return id;
}
/** Its time has come. */
const due = (id: string) => runtime.db.models.Recording.update({ goesAt: ago(0.01) }, { where: { id } });

it("is for owners alone to choose, and nothing goes where nobody has", async () => {
  const id = await old("Nobody asked", 4_000);
  await expect(runtime.retention.set(suri, { days: 90 })).rejects.toMatchObject({ status: 403 });
  expect(await run()).toEqual({ told: 0, gone: 0 });
  expect((await row(id)).goesAt).toBeNull();
  await runtime.library.delete(suri, id);
});

it("tells its sender two weeks before, once, and lets it go then; restored, it is used", async () => {
  const id = await old("Ridge vent, first try", 400);
  const young = await old("Ridge vent, second try", 300);
  await runtime.retention.set(orla, { days: 365 });
  expect(await run()).toEqual({ told: 1, gone: 0 });
  const { goesAt } = await row(id);
  expect(goesAt!.getTime()).toBeGreaterThanOrEqual(Date.now() + 14 * DAY);
  expect(goesAt!.getTime()).toBeLessThanOrEqual(Date.now() + 15 * DAY);
  expect(lastDay(goesAt!.toISOString())).toBe(new Date(goesAt!.getTime() - DAY).toISOString().slice(0, 10));
  expect((await row(young)).goesAt).toBeNull();
  expect(await runtime.retention.going(orla.workspaceId)).toBe(1);

  // In the library of its sender, in what waits for them, and in their mail of the day.
  const listed = await runtime.library.page(suri, { q: "", sort: "newest", show: "kept", group: null, after: null });
  expect(listed.rows.find((one) => one.id === id)!.goesAt).toBe(goesAt!.toISOString());
  const { waiting } = await runtime.inbox.page(suri.id, { show: "all", after: null });
  expect(waiting.filter(({ kind }) => kind === "unused")).toMatchObject([
    { title: "Ridge vent, first try", words: goesAt!.toISOString(), who: null },
  ]);
  expect((await runtime.inbox.page(orla.id, { show: "all", after: null })).waiting).toEqual([]);
  await runtime.wishes.save(suri, { ...(await runtime.wishes.of(suri.id)), mail: { ...MAIL, unused: "now" } });
  await runtime.db.rows("update inbox set at = now() - interval '5 minutes' where kind = 'unused' returning subject");
  await runtime.teller.tell(AbortSignal.timeout(10_000));
  const mail = await runtime.db.models.Mail.findOne({ where: { toAddress: suri.email, kind: "notice" } });
  expect(mail!.subject).toBe("It goes soon: Ridge vent, first try");

  // Nothing is told twice, and nothing goes before.
  expect(await run()).toEqual({ told: 0, gone: 0 });
  await due(id);
  expect(await run()).toEqual({ told: 0, gone: 1 });
  expect(await waits(id)).toBe(0);
  const deleted = await runtime.library.page(suri, {
    q: "",
    sort: "newest",
    show: "deleted",
    group: null,
    after: null,
  });
  expect(deleted.rows.map(({ title }) => title)).toContain("Ridge vent, first try");
  await runtime.library.restore(suri, id);
  expect(await run()).toEqual({ told: 0, gone: 0 });
  expect((await row(id)).deletedAt).toBeNull();
});

it("does not let go what was opened, by a guest or by its sender, or published since", async () => {
  await runtime.retention.set(orla, { days: 90 });
  const ids = { guest: await old("Seen", 80), sender: await old("Seen by Suri", 80), edited: await old("Edited", 80) };
  expect((await run()).told).toBeGreaterThanOrEqual(3);
  const recording = async (id: string) => (await runtime.access.byId(id))!;
  await new Browser(runtime, await recording(ids.guest)).as("Ida");
  await new Browser(runtime, await recording(ids.sender), suri).visit();
  await runtime.db.models.Revision.update({ publishedAt: new Date() }, { where: { recordingId: ids.edited } });
  for (const id of Object.values(ids)) await due(id);
  expect((await run()).gone).toBe(0);
  for (const id of Object.values(ids)) {
    expect(await row(id)).toMatchObject({ deletedAt: null, goesAt: null });
    expect(await waits(id)).toBe(0);
  }
});

it("lets stay what its sender wants to stay, and nobody else says so", async () => {
  const id = await old("The first pane", 1_000);
  await run();
  await expect(runtime.library.spare(orla, id, true)).rejects.toThrow(/not yours/);
  await runtime.library.spare(suri, id, true);
  expect(await waits(id)).toBe(0);
  expect(await run()).toEqual({ told: 0, gone: 0 });
  expect(await row(id)).toMatchObject({ spared: true, goesAt: null });
  // From now on as others do: with two weeks from then.
  await runtime.library.spare(suri, id, false);
  expect(await run()).toEqual({ told: 1, gone: 0 });
  expect((await row(id)).goesAt!.getTime()).toBeGreaterThanOrEqual(Date.now() + 14 * DAY);
});

it("takes back what it has told where the workspace wants it otherwise, and tells it anew", async () => {
  const id = await old("Putty", 1_000);
  await run();
  expect(await waits(id)).toBe(1);
  const before = (await row(id)).goesAt;
  await runtime.retention.set(orla, { days: 90 });
  expect((await row(id)).goesAt, "the same again").toEqual(before);
  await due(id);
  await runtime.retention.set(orla, { days: 1825 });
  expect(await waits(id)).toBe(0);
  expect(await run()).toEqual({ told: 0, gone: 0 });
  await runtime.retention.set(orla, { days: 0 });
  expect((await runtime.sessions.member(await runtime.sessions.start(orla.id)))!.unusedDays).toBeNull();
  expect(await run()).toEqual({ told: 0, gone: 0 });
  expect((await row(id)).deletedAt).toBeNull();
});

it("looks through more than one batch, from two processes at a time, and tells each once", async () => {
  const { Recording } = runtime.db.models;
  const copies = await runtime.db.rows<{ id: string }>(
    `insert into recordings (id, workspace_id, owner_id, title, token, used_at, created_at)
     select gen_random_uuid(), $1, $2, 'One of many', 'many-' || n, now() - interval '3 years', now() - interval '3 years'
       from generate_series(1, 1100) n returning id`,
    [orla.workspaceId, suri.id],
  );
  const other = await openRuntime(runtime.settings, databaseUrlOf(runtime));
  try {
    await runtime.retention.set(orla, { days: 730 });
    await Recording.update({ spared: true }, { where: { id: copies[0]!.id } });
    const [a, b] = await Promise.all([run(), other.retention.run(AbortSignal.timeout(20_000))]);
    expect(a.told + b.told).toBeGreaterThanOrEqual(1099);
    const ids = copies.map(({ id }) => id);
    expect(await runtime.db.models.InboxItem.count({ where: { subject: ids, kind: "unused" } })).toBe(1099);
    expect(await runtime.retention.going(orla.workspaceId)).toBe(1001);
    await expect(runtime.retention.run(AbortSignal.abort())).rejects.toThrow();
  } finally {
    await other.close();
  }
});

const MAIL = {
  comment: "never",
  reply: "never",
  "not-clear": "never",
  answer: "never",
  reaction: "never",
  view: "never",
  owed: "never",
  folder: "never",
  ready: "never",
  trouble: "never",
} as const;
