import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { colleagueOf, feedTake, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import { clearDeleted } from "../jobs/clear-deleted";
import type { Runtime } from "../runtime";
import { MissingObject } from "../storage/storage";
import { rowState, type LibraryQuery, type Sort } from "./library";

let runtime: Runtime;
let orla: SignedIn;
let bram: SignedIn;
let stranger: SignedIn;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  bram = await colleagueOf(runtime, orla);
  stranger = await newMember(runtime, "Somebody Else");
});
afterAll(() => runtime.close());

const query = (more: Partial<LibraryQuery> = {}): LibraryQuery => ({
  q: "",
  sort: "newest",
  show: "kept",
  after: null,
  ...more,
});
const titles = async (member: SignedIn, more: Partial<LibraryQuery> = {}) =>
  (await runtime.library.page(member, query(more))).rows.map((r) => r.title);
const start = (member: SignedIn, title: string) =>
  runtime.takes.start(member, { source: "screen", title, audience: "owner" });

describe("the library", () => {
  it("shows one's own, and what colleagues have shared", async () => {
    const mine = await start(orla, "Gutter repair");
    await start(bram, "Draft of Bram");
    expect(await titles(orla)).toEqual(["Gutter repair"]);
    expect(await titles(bram)).toEqual(["Draft of Bram"]);
    await runtime.library.share(orla, mine.recordingId, "anyone");
    expect(await titles(bram)).toEqual(["Draft of Bram", "Gutter repair"]);
    expect(await titles(stranger)).toEqual([]);
  });

  it("finds titles, taking every character as it is", async () => {
    const pat = await newMember(runtime);
    for (const title of ["50% of the panes", "50 panes", "Under_score", "Back\\slash"]) await start(pat, title);
    expect(await titles(pat, { q: "50%" })).toEqual(["50% of the panes"]);
    expect(await titles(pat, { q: "_" })).toEqual(["Under_score"]);
    expect(await titles(pat, { q: "\\" })).toEqual(["Back\\slash"]);
    expect(await titles(pat, { q: "PANES" })).toHaveLength(2);
    expect(await titles(pat, { q: "'; drop table recordings; --" })).toEqual([]);
  });

  it.each(["newest", "oldest", "title", "longest"] as Sort[])(
    "pages through 120 rows %s first without losing or doubling one",
    async (sort) => {
      const many = await newMember(runtime);
      await runtime.db.rows(
        `with r as (insert into recordings (id, workspace_id, owner_id, title, token, duration_us, created_at)
         select gen_random_uuid(), $1, $2, 'Row ' || (n % 40), 'tok' || n || $3, (n % 7) * 1000000, now() - make_interval(mins => n / 3) from generate_series(1, 120) n returning id)
       insert into takes (id, recording_id, position, source, state) select gen_random_uuid(), id, 1, 'screen', 'complete' from r returning id`,
        [many.workspaceId, many.id, many.id],
      );
      const seen: string[] = [];
      let after: string | null = null;
      do {
        const page = await runtime.library.page(many, query({ sort, after }));
        seen.push(...page.rows.map((r) => r.id));
        after = page.next;
      } while (after);
      expect([seen.length, new Set(seen).size]).toEqual([120, 120]);
    },
  );

  it("refuses a page that was made up", async () => {
    for (const after of [
      "x",
      Buffer.from('["a"]').toString("base64url"),
      Buffer.from('["a","b"]').toString("base64url"),
    ]) {
      await expect(runtime.library.page(orla, query({ after }))).rejects.toThrow(/page of the list/);
    }
  });

  it("lets only the owner change, delete, restore and erase", async () => {
    const take = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 3, "Putty");
    await runtime.library.share(orla, take.recordingId, "anyone");
    for (const who of [bram, stranger]) {
      await expect(runtime.library.rename(who, take.recordingId, "Mine now")).rejects.toThrow(/not yours/);
      await expect(runtime.library.delete(who, take.recordingId)).rejects.toThrow(/not yours/);
    }
    await runtime.library.delete(orla, take.recordingId);
    await expect(runtime.library.rename(orla, take.recordingId, "x")).rejects.toThrow();
    await expect(runtime.library.restore(bram, take.recordingId)).rejects.toThrow();
    expect(await titles(orla, { show: "deleted" })).toContain("Putty");
    expect(await titles(bram, { show: "deleted" })).toEqual([]);
    await runtime.library.restore(orla, take.recordingId);
    expect(await titles(orla)).toContain("Putty");
  });

  it("clears out what was deleted 30 days ago, with its bytes, and nothing younger", async () => {
    const old = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 3, "Old");
    const young = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 3, "Young");
    const [{ key } = { key: "" }] = await runtime.db.rows<{ key: string }>(
      "select s.key from segments s join tracks k on k.id = s.track_id where k.take_id = $1",
      [old.takeId],
    );
    for (const t of [old, young]) await runtime.library.delete(orla, t.recordingId);
    await runtime.db.rows("update recordings set deleted_at = now() - interval '31 days' where id = $1 returning id", [
      old.recordingId,
    ]);
    await clearDeleted(runtime.db, runtime.storage);
    expect(await titles(orla, { show: "deleted" })).toEqual(["Young"]);
    await expect(runtime.storage.get(key)).rejects.toThrow(MissingObject);
  });
});

describe("where a recording stands", () => {
  const raw = { state: "recording" as const, paused: false, expected: null, stored: 4, silent: 3, durationUs: "0" };
  it.each([
    [raw, { kind: "recording", paused: false }],
    [
      { ...raw, paused: true },
      { kind: "recording", paused: true },
    ],
    [
      { ...raw, silent: 300 },
      { kind: "interrupted", stored: 4, expected: null },
    ],
    [
      { ...raw, state: "uploading" as const, expected: { screen: 6, camera: 2 } },
      { kind: "uploading", stored: 4, expected: 8 },
    ],
    [
      { ...raw, state: "uploading" as const, expected: { screen: 6 }, silent: 300 },
      { kind: "interrupted", stored: 4, expected: 6 },
    ],
    [{ ...raw, state: "complete" as const, durationUs: "5" }, { kind: "ready" }],
    [{ ...raw, state: "complete" as const }, { kind: "empty" }],
  ])("case %#", (row, state) => expect(rowState(row)).toEqual(state));
});
