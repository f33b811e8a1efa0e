import FeedParser, { type Item, type Meta } from "feedparser";
import { Readable } from "node:stream";
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import { codeOf, colleagueOf, freshRuntime, newMember } from "../../testing/server";
import type { Subject } from "#core/access/access";
import type { SignedIn } from "../accounts/sessions";
import type { ArrivedRow } from "./contents";
import type { Runtime } from "../runtime";
import { atomOf } from "./atom";

/** Outside check: what a reader of feeds that many programs use makes of it (RFC 4287). */
function asRead(xml: string): Promise<{ meta: Meta; items: Item[] }> {
  const parser = new FeedParser({});
  const items: Item[] = [];
  return new Promise((done, failed) => {
    parser.on("error", failed);
    parser.on("readable", () => {
      for (let item = parser.read(); item; item = parser.read()) items.push(item);
    });
    parser.on("end", () => done({ meta: parser.meta, items }));
    Readable.from([xml]).pipe(parser);
  });
}

describe("a folder as a feed", () => {
  const row = (more: Partial<ArrivedRow>): ArrivedRow =>
    ({
      id: "0b0f6f6e-0000-4000-8000-000000000001",
      token: "t".repeat(22),
      title: "Ridge vent",
      state: { kind: "ready" },
      durationUs: 83_000_000,
      createdAt: "2026-04-01T08:00:00.000Z",
      arrivedAt: "2026-05-01T08:00:00.000Z",
      sender: "Bram Lark",
      ...more,
    }) as ArrivedRow;
  const folder = { id: "f", name: "Bay C & D", workspaceName: "Fenn <Lark>" };
  const wish = { id: "feed", folder, self: "https://x.test/feeds/k", publicUrl: "https://x.test" };

  it("says what lies there, whose it is, and where it is seen", async () => {
    const { meta, items } = await asRead(atomOf({ ...wish, rows: [row({})] }));
    expect([meta["#type"], meta["#version"], meta.title]).toEqual(["atom", "1.0", "Bay C & D, Fenn <Lark>"]);
    expect([meta.link, meta.xmlurl]).toEqual(["https://x.test/f/f", "https://x.test/feeds/k"]);
    expect(meta.date).toEqual(new Date("2026-05-01T08:00:00Z"));
    const [item] = items;
    expect(item).toMatchObject({
      title: "Ridge vent",
      link: `https://x.test/w/${"t".repeat(22)}`,
      guid: "urn:uuid:0b0f6f6e-0000-4000-8000-000000000001",
      author: "Bram Lark",
      summary: "Bram Lark, 1 minute 23 seconds",
    });
    expect(item!.pubdate).toEqual(new Date("2026-05-01T08:00:00Z"));
  });

  it("is well made whatever a title says", async () => {
    const titles = ["<b>Bold</b> & ]]> <script>", "Bell \u0007 and \u0000 nothing \uffff", "“Vents” 🌿 &amp; &#60;"];
    const xml = atomOf({ ...wish, rows: titles.map((title, i) => row({ title, token: `${i}` })) });
    const { items } = await asRead(xml);
    const text = (html: string) => html.replaceAll(/&#(\d+);/g, (_, code) => String.fromCodePoint(Number(code)));
    expect(items.map(({ title }) => text(title))).toEqual([titles[0], "Bell  and  nothing", titles[2]]);
  });

  it("leaves out what is not whole yet, and is a feed where nothing lies", async () => {
    const rows = [row({ state: { kind: "recording", paused: false } }), row({ state: { kind: "empty" } })];
    const { meta, items } = await asRead(atomOf({ ...wish, rows }));
    expect(items).toEqual([]);
    expect(meta.title).toBe("Bay C & D, Fenn <Lark>");
  });
});

describe("the feed of somebody", () => {
  let runtime: Runtime;
  let orla: SignedIn;
  let bram: SignedIn;
  let folderId: string;
  beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"))));
  beforeEach(async () => {
    orla = await newMember(runtime);
    bram = await colleagueOf(runtime, orla);
    folderId = await runtime.folders.make(orla, { name: "Bay C", parentId: null });
  });
  afterAll(() => runtime.close());
  const lineOf = async (subject: Subject) =>
    runtime.feeds.of(subject, await runtime.folders.require(subject, "see", folderId));

  it("is for who sees the folder, and is closed by another, by its end, and by nobody else", async () => {
    const { feeds, folders } = runtime;
    await expect(feeds.make(bram, folderId)).rejects.toMatchObject({ status: 404 });
    await folders.openTo(orla, folderId, "view");
    const first = await feeds.make(bram, folderId);
    const own = await feeds.make(orla, folderId);
    expect((await feeds.shown(first))!.subject).toMatchObject({
      id: bram.id,
      memberships: [{ workspaceId: orla.workspaceId, role: "member" }],
    });
    const second = await feeds.make(bram, folderId);
    expect(await feeds.shown(first)).toBeNull();
    expect((await feeds.shown(second))!.folderId).toBe(folderId);
    await feeds.end(bram, folderId);
    expect(await feeds.shown(second)).toBeNull();
    expect(await lineOf(bram)).toBeNull();
    expect(await feeds.shown(own)).not.toBeNull();
    for (const wrong of ["", "x".repeat(43), `${own}x`, own.slice(1)]) expect(await feeds.shown(wrong)).toBeNull();
  });

  it("says when it was asked for, and goes with the folder", async () => {
    const { feeds, folders } = runtime;
    const key = await feeds.make(orla, folderId);
    expect(await lineOf(orla)).toMatchObject({ askedAt: null });
    await feeds.shown(key);
    expect((await lineOf(orla))!.askedAt).toMatch(/^\d{4}-.+Z$/);
    await folders.remove(orla, folderId);
    expect(await feeds.shown(key)).toBeNull();
  });

  it("tells what came last first, however long ago it was recorded", async () => {
    const { folders, folderContents, takes, db } = runtime;
    await takes.start(orla, { source: "voice", title: "Fresh", audience: "anyone", folder: folderId });
    const old = await takes.start(orla, { source: "voice", title: "Old", audience: "anyone" });
    const draft = await takes.start(orla, { source: "voice", title: "Draft", audience: "owner" });
    await db.rows("update recordings set created_at = now() - interval '1 year' where id = $1 returning id", [
      old.recordingId,
    ]);
    await db.rows("update recordings set owed = 'nothing' where workspace_id = $1 returning id", [orla.workspaceId]);
    await folderContents.put(orla, { recordings: [old.recordingId, draft.recordingId], to: folderId, open: false });
    const before = Date.now();
    await folderContents.put(orla, { recordings: [draft.recordingId], to: folderId, open: true });
    const rows = await folderContents.arrived(orla, await folders.require(orla, "see", folderId));
    expect(rows.map(({ title }) => title)).toEqual(["Draft", "Old", "Fresh"]);
    expect(Date.parse(rows[0]!.arrivedAt)).toBeGreaterThan(before - 1_000);
    // Another title is no arrival.
    const seen = rows[1]!.arrivedAt;
    await db.rows("update recordings set title = 'Older' where id = $1 returning id", [old.recordingId]);
    const again = await folderContents.arrived(orla, await folders.require(orla, "see", folderId));
    expect(again[1]).toMatchObject({ title: "Older", arrivedAt: seen });
  });

  it("is one however often it is made at once", async () => {
    const keys = await Promise.all(Array.from({ length: 8 }, () => runtime.feeds.make(orla, folderId)));
    const open = await Promise.all(keys.map((key) => runtime.feeds.shown(key)));
    expect(open.filter(Boolean)).toHaveLength(1);
  });

  it("is a client's by their personal link, in what lies under it too, and ends with that link", async () => {
    const { feeds, folders, folderPeople } = runtime;
    const below = await folders.make(orla, { name: "Vents", parentId: folderId });
    await folderPeople.add(orla, folderId, { who: "Wren Thistle\nIda Moss", may: "view" }, "10.0.0.1");
    const people = await folderPeople.list(await folders.require(orla, "manage", folderId));
    const [wren, ida] = ["Wren Thistle", "Ida Moss"].map((name) => people.find((person) => person.name === name)!);
    const subjectOf = async (key: string): Promise<Subject> => {
      const { pass } = (await folderPeople.personal(key))!;
      return { id: null, memberships: [], passes: [pass] };
    };
    const [asWren, asIda] = [await subjectOf(wren!.key!), await subjectOf(ida!.key!)];
    const sees = async (key: string) => {
      const shown = await feeds.shown(key);
      return shown && (await codeOf(folders.require(shown.subject, "see", shown.folderId)));
    };
    const first = await feeds.make(asWren, folderId);
    const [here, there, hers] = [
      await feeds.make(asWren, folderId),
      await feeds.make(asWren, below),
      await feeds.make(asIda, folderId),
    ];
    expect(await feeds.shown(first)).toBeNull();
    expect(await Promise.all([here, there, hers].map(sees))).toEqual(["done", "done", "done"]);
    expect((await lineOf(asWren))!.askedAt).not.toBeNull();
    // Another link for her: who had the first one reads on nowhere, and she makes her own anew.
    await folderPeople.newLink(orla, folderId, wren!.id);
    expect(await Promise.all([here, there, hers].map(sees))).toEqual([null, null, "done"]);
    expect(await codeOf(feeds.make(asWren, folderId))).toBe("not-found");
    const { key } = await runtime.db.models.FolderPerson.findByPk(wren!.id, { rejectOnEmpty: true });
    const anew = await subjectOf(key);
    expect(await lineOf(anew)).toBeNull();
    const fresh = await feeds.make(anew, folderId);
    expect(await sees(fresh)).toBe("done");
    await feeds.end(anew, folderId);
    expect(await sees(fresh)).toBeNull();
    await folderPeople.remove(orla, folderId, ida!.id);
    expect(await sees(hers)).toBeNull();
    expect(await codeOf(feeds.make(null, folderId))).toBe("not-found");
  });

  it("is by the personal link where somebody's account is not enough", async () => {
    const { feeds, folders, folderPeople } = runtime;
    await folderPeople.add(orla, folderId, { who: "Wren Thistle", may: "view" }, "10.0.0.1");
    const people = await folderPeople.list(await folders.require(orla, "manage", folderId));
    const wren = people.find(({ name }) => name === "Wren Thistle");
    const stranger = await newMember(runtime);
    const { pass } = (await folderPeople.personal(wren!.key!))!;
    const key = await feeds.make({ id: stranger.id, memberships: stranger.memberships, passes: [pass] }, folderId);
    const { subject } = (await feeds.shown(key))!;
    expect(subject).toEqual({ id: null, memberships: [], passes: [pass] });
  });
});
