import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { Browser } from "../../testing/answers";
import { colleagueOf, feedTake, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import { clearDeleted } from "../jobs/clear-deleted";
import type { Runtime } from "../runtime";
import { MissingObject } from "../storage/storage";
import { owedOf } from "#core/answers/owed";
import type { LibraryQuery, Sort } from "./library-query";
import { rowState } from "./rows";

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
  group: null,
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
    await runtime.sharing.change(orla, mine.recordingId, { audience: "anyone" });
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

  it("does not replace a title unseen: of two windows the second one is told", async () => {
    const take = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 3, "Bead");
    const rename = (title: string, version: number) => runtime.library.rename(orla, take.recordingId, title, version);
    const tries = await Promise.allSettled([rename("Bead and pane", 1), rename("Beading", 1)]);
    expect(tries.map((t) => t.status).sort()).toEqual(["fulfilled", "rejected"]);
    const { title, titleVersion } = await runtime.library.details(take.recordingId);
    expect(titleVersion).toBe(2);
    await expect(rename("Third", 1)).rejects.toMatchObject({ status: 409, message: expect.stringContaining(title) });
    await rename(title, 1);
    await rename("Third", 2);
    expect(await runtime.library.details(take.recordingId)).toMatchObject({ title: "Third", titleVersion: 3 });
  });

  it("lets only the owner change, delete, restore and erase", async () => {
    const take = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 3, "Putty");
    await runtime.sharing.change(orla, take.recordingId, { audience: "anyone" });
    for (const who of [bram, stranger]) {
      await expect(runtime.library.rename(who, take.recordingId, "Mine now", 1)).rejects.toThrow(/not yours/);
      await expect(runtime.library.delete(who, take.recordingId)).rejects.toThrow(/not yours/);
    }
    await runtime.library.delete(orla, take.recordingId);
    await expect(runtime.library.rename(orla, take.recordingId, "x", 1)).rejects.toThrow();
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
    await clearDeleted(runtime.db, runtime.erase);
    expect(await titles(orla, { show: "deleted" })).toEqual(["Young"]);
    await expect(runtime.storage.get(key)).rejects.toThrow(MissingObject);
  });
});

describe("groups by what is still owed", () => {
  it("are true for the whole library, each with its number, and the same as in core", async () => {
    const many = await newMember(runtime, "Suri Vale");
    const mate = await colleagueOf(runtime, many);
    const make = (who: SignedIn, title: string) =>
      feedTake(runtime, who, "voice", { microphone: "microphone" }, 3, title);
    const shared = async (who: SignedIn, title: string) => {
      const { recordingId } = await make(who, title);
      await runtime.sharing.change(who, recordingId, { audience: "anyone" });
      return recordingId;
    };
    const ask = { kind: "nod", question: "", choices: [], due: null, zone: "UTC" } as const;
    await make(many, "Draft");
    await start(many, "Growing");
    await shared(many, "Nothing asked");
    await shared(mate, "From a colleague");
    const waiting = await shared(many, "Waiting");
    await runtime.asks.set(waiting, { ...ask, choices: [] });
    await runtime.invites.add(waiting, "Ida");
    const closed = await shared(many, "Closed");
    await runtime.asks.set(closed, { ...ask, choices: [] });
    await runtime.asks.close(closed, true);
    // Fifteen newer ones of one group do not push the others off the page.
    const extra = await runtime.db.rows<{ id: string }>(
      `with r as (insert into recordings (id, workspace_id, owner_id, title, token, duration_us, audience)
         select gen_random_uuid(), $1, $2, 'Extra ' || n, 'extra' || n || $3, 5, 'anyone' from generate_series(1, 15) n returning id)
       insert into takes (id, recording_id, position, source, state) select gen_random_uuid(), id, 1, 'voice', 'complete' from r returning recording_id as id`,
      [many.workspaceId, many.id, many.id],
    );
    expect(extra).toHaveLength(15);
    const named = async (q = "") =>
      (await runtime.library.groups(many, { q, sort: "newest" })).map((g) => [g.owed, g.total, g.rows.length]);
    expect(await named()).toEqual([
      ["arriving", 1, 1],
      ["waiting", 1, 1],
      ["answered", 1, 1],
      ["nothing", 16, 10],
      ["draft", 1, 1],
      ["others", 1, 1],
    ]);
    expect(await named("extra 1")).toEqual([["nothing", 7, 7]]);
    for (const { owed, rows } of await runtime.library.groups(many, { q: "", sort: "oldest" })) {
      for (const row of rows) expect([row.title, owedOf(row)]).toEqual([row.title, owed]);
      const whole = await runtime.library.page(many, query({ group: owed }));
      expect(whole.rows.map((r) => r.id)).toEqual(expect.arrayContaining(rows.map((r) => r.id)));
    }
    // Everything that changes it is seen: an answer, not clear, a question withdrawn, a draft again.
    const owed = async (id: string) =>
      (await runtime.db.rows<{ owed: string }>("select owed from recordings where id = $1", [id]))[0]!.owed;
    const recording = (await runtime.access.byId(waiting))!;
    const ida = await new Browser(runtime, recording).visit({
      invite: (await runtime.db.rows<{ key: string }>("select key from invites where recording_id = $1", [waiting]))[0]!
        .key,
    });
    await ida.say({ do: "name", name: "Ida" });
    await ida.say({ do: "answer", answer: { kind: "not-clear", at: 0, words: "" } });
    expect(await owed(waiting)).toBe("waiting");
    await ida.say({ do: "answer", answer: { kind: "nod" } });
    expect(await owed(waiting)).toBe("answered");
    await runtime.asks.set(waiting, { ...ask, kind: "nothing", choices: [] });
    expect(await owed(waiting)).toBe("nothing");
    await runtime.sharing.change(many, waiting, { audience: "owner" });
    expect(await owed(waiting)).toBe("draft");
  });
});

describe("where a recording stands", () => {
  const raw = { state: "recording" as const, paused: false, expected: null, stored: 4, silent: 3, durationUs: 0 };
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
    [{ ...raw, state: "complete" as const, durationUs: 5 }, { kind: "ready" }],
    [{ ...raw, state: "complete" as const }, { kind: "empty" }],
  ])("case %#", (row, state) => expect(rowState(row)).toEqual(state));
});
