import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { GROUPS } from "#core/answers/groups";
import { readAnnotations, toAnnotationPage } from "#core/answers/web-annotation";
import { wrongField } from "../../testing/forms";
import { Browser, sharedRecording } from "../../testing/answers";
import { makeTrack } from "../../testing/media";
import { colleagueOf, freshRuntime, newMember, sha256 } from "../../testing/server";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";
import { askForm, inviteForm, sayForm, spansForm } from "./forms";
import { newGuestKey } from "./viewers";
import type { Show } from "#core/answers/shows";
import type { InboxPage } from "./inbox";

const S = 1_000_000;
let runtime: Runtime;
let orla: SignedIn;
let bram: SignedIn;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  bram = await colleagueOf(runtime, orla);
});
afterAll(() => runtime.close());

const fresh = (title?: string) => sharedRecording(runtime, orla, title);
const guest = (recording: KnownRecording) => new Browser(runtime, recording);
const comment = (body: string, at = S, until: number | null = null) => ({ do: "comment" as const, body, at, until });
const NOW = Date.parse("2026-11-24T12:00:00Z");
const people = async (recording: KnownRecording, now = NOW) =>
  (await runtime.people(recording.id, await runtime.asks.of(recording.id), now)).rows;
const inbox = async (who: SignedIn, show: Show = "all") =>
  (await runtime.inbox.page(who.id, { show, after: null })).waiting;

describe("who opens a link", () => {
  it("is the same guest in the same browser, and another in another", async () => {
    const recording = await fresh();
    const ida = await guest(recording).as("Ida Marsh");
    await ida.visit();
    const tom = await guest(recording).visit();
    expect([(await ida.viewer())!.number, (await tom.viewer())!.number]).toEqual([0, 1]);
    expect((await ida.viewer())!.name).toBe("Ida Marsh");
    // The name goes along to another recording, in this browser.
    const other = new Browser(runtime, await fresh());
    other.who = ida.who;
    await other.visit();
    expect((await other.viewer())!.name).toBe("Ida Marsh");
  });

  it("is known by the name in the personal link that they came by, unless they have given one", async () => {
    const recording = await fresh();
    await runtime.invites.add(recording.id, "Hester Quill");
    const { key } = (await runtime.db.models.Invite.findOne({ where: { recordingId: recording.id } }))!;
    const hester = await guest(recording).visit({ invite: key });
    expect(await hester.viewer()).toMatchObject({ name: "Hester Quill", needsName: false });
    const ida = await guest(recording).as("Ida Marsh");
    await ida.visit({ invite: key });
    expect((await ida.viewer())!.name).toBe("Ida Marsh");
    const unnamed = await guest(recording).visit({ invite: key, named: false });
    expect((await unnamed.viewer())!.name).toBeNull();
  });

  it("is apart when it is the sender", async () => {
    const recording = await fresh();
    const sender = await new Browser(runtime, recording, orla).visit();
    expect(await sender.viewer()).toMatchObject({ number: -1, isSender: true });
    expect(await people(recording)).toEqual([]);
  });

  it("comes at the same time from many without trouble", async () => {
    const recording = await fresh();
    await Promise.all(Array.from({ length: 12 }, () => guest(recording).visit()));
    expect((await people(recording)).flatMap((p) => p.numbers).sort((a, b) => a - b)).toEqual(
      Array.from({ length: 12 }, (_, i) => i),
    );
  });

  it("is one guest when several of its pages come at once, by the key that it was given before", async () => {
    const [first, second] = [await fresh(), await fresh()];
    const who = { member: null, guestKey: newGuestKey(), address: "198.51.100.7" };
    const pages = [first, second, first, second].map((recording) => Object.assign(guest(recording), { who }));
    await Promise.all(pages.map((page) => page.visit()));
    await pages[0]!.say({ do: "name", name: "Tove" });
    expect((await people(first)).map((p) => p.name)).toEqual(["Tove"]);
    expect((await people(second)).map((p) => p.name)).toEqual(["Tove"]);
  });

  it("says nothing before it has opened the page, and nothing by a made-up key", async () => {
    const recording = await fresh();
    const stranger = guest(recording);
    await expect(stranger.say(comment("Hello"))).rejects.toMatchObject({ status: 409, code: "not-opened" });
    stranger.who = { member: null, guestKey: "x".repeat(32), address: "198.51.100.7" };
    await expect(stranger.say(comment("Hello"))).rejects.toMatchObject({ status: 409 });
  });
});

describe("comments", () => {
  it("need a name, stand in order of time, and have replies in one thread", async () => {
    const recording = await fresh();
    const ida = await guest(recording).visit();
    await expect(ida.say(comment("Why?"))).rejects.toMatchObject({ code: "no-name" });
    await ida.say({ do: "name", name: "Ida" });
    const later = await ida.say(comment("Later", 4 * S));
    const early = await ida.say(comment("Early", 2 * S, 3 * S));
    const sender = await new Browser(runtime, recording, orla).visit();
    const reply = await sender.say({ do: "reply", to: early, body: "Because" });
    const again = await ida.say({ do: "reply", to: reply, body: "I see" });
    const list = await runtime.comments.list(recording.id);
    expect(list.map((c) => c.id)).toEqual([early, reply, again, later]);
    expect(list.filter((c) => c.replyTo === early)).toHaveLength(2);
    expect(list[0]).toMatchObject({
      name: "Ida",
      bySender: false,
      at: 2 * S,
      until: 3 * S,
      edited: false,
      settled: false,
    });
    expect(list[1]).toMatchObject({ name: "Orla Fenn", bySender: true, at: 2 * S });
  });

  it("are changed and taken back by who wrote them, and by nobody else", async () => {
    const recording = await fresh();
    const ida = await guest(recording).as("Ida");
    const tom = await guest(recording).as("Tom");
    const sender = await new Browser(runtime, recording, orla).visit();
    const id = await ida.say(comment("Mine"));
    for (const other of [tom, sender]) {
      await expect(other.say({ do: "edit", id, body: "Not mine", version: 1 })).rejects.toMatchObject({ status: 403 });
      await expect(other.say({ do: "remove", id })).rejects.toMatchObject({ status: 403 });
    }
    await expect(tom.say({ do: "settle", id, settled: true })).rejects.toMatchObject({ status: 403 });
    await sender.say({ do: "settle", id, settled: true });
    await ida.say({ do: "edit", id, body: "Mine, changed", version: 1 });
    expect(await runtime.comments.list(recording.id)).toMatchObject([
      { body: "Mine, changed", edited: true, settled: true },
    ]);
    // From a window that has not seen that: told, with what stands there. The same words again are no change.
    await expect(ida.say({ do: "edit", id, body: "Mine, otherwise", version: 1 })).rejects.toMatchObject({
      status: 409,
      message: expect.stringContaining("“Mine, changed”"),
    });
    await ida.say({ do: "edit", id, body: "Mine, changed", version: 1 });
    const [shown] = await runtime.comments.list(recording.id);
    expect(shown).toMatchObject({ body: "Mine, changed", version: 2 });
    await tom.say({ do: "reply", to: id, body: "Stays" });
    await ida.say({ do: "remove", id });
    expect((await runtime.comments.list(recording.id)).map((c) => c.body)).toEqual([null, "Stays"]);
    await expect(
      ida.say({ do: "edit", id: "00000000-0000-4000-8000-000000000000", body: "x", version: 1 }),
    ).rejects.toMatchObject({
      status: 404,
    });
  });

  it("of one recording cannot be touched through another", async () => {
    const [one, two] = [await fresh(), await fresh()];
    const ida = await guest(one).as("Ida");
    const id = await ida.say(comment("Here"));
    const there = new Browser(runtime, two);
    there.who = ida.who;
    await there.visit();
    await expect(there.say({ do: "remove", id })).rejects.toMatchObject({ status: 404 });
    await expect(there.say({ do: "reply", to: id, body: "x" })).rejects.toMatchObject({ status: 404 });
  });

  it("sent again under the same name are made once, and never in somebody else's name", async () => {
    const recording = await fresh();
    const [ida, tom] = [await guest(recording).as("Ida"), await guest(recording).as("Tom")];
    const id = crypto.randomUUID();
    expect(await Promise.all([1, 2, 3].map(() => ida.say({ ...comment("Once"), id })))).toEqual([id, id, id]);
    expect(await runtime.comments.list(recording.id)).toHaveLength(1);
    await expect(tom.say({ ...comment("Mine"), id })).rejects.toMatchObject({ status: 409 });
  });

  it("beyond the end are refused", async () => {
    const ida = await guest(await fresh()).as("Ida");
    await expect(ida.say(comment("Late", 60 * S))).rejects.toMatchObject({ code: "beyond-the-end" });
    await expect(ida.say(comment("Long", S, 60 * S))).rejects.toMatchObject({ code: "beyond-the-end" });
    await expect(ida.say({ do: "react", kind: "smile", at: 60 * S })).rejects.toMatchObject({ code: "beyond-the-end" });
  });

  it("in a flood are stopped with the seconds to wait", async () => {
    const ida = await guest(await fresh()).as("Ida");
    const all = await Promise.allSettled(Array.from({ length: 25 }, (_, i) => ida.say(comment(`No ${i}`))));
    const refused = all
      .filter((r) => r.status === "rejected")
      .map((r) => (r as PromiseRejectedResult).reason as { code: string; detail: { retryAfter: number } });
    expect(refused).toHaveLength(5);
    for (const r of refused) expect(r).toMatchObject({ code: "too-many", detail: { retryAfter: expect.any(Number) } });
  });

  it("go out as Web Annotation and come in again once, under their names", async () => {
    const [one, two] = [await fresh(), await fresh()];
    const ida = await guest(one).as("Ida");
    const id = await ida.say(comment("Why *here*?", 2 * S, 3 * S));
    await ida.say({ do: "reply", to: id, body: "Ah" });
    const page = toAnnotationPage("https://nod.test/w/x", await runtime.comments.toAnnotations(one.id));
    const { comments, skipped } = readAnnotations(JSON.parse(JSON.stringify(page)));
    const sender = (await (await new Browser(runtime, two, orla).visit()).viewer())!;
    expect([
      skipped,
      await runtime.comments.bringIn(two.id, sender, comments),
      await runtime.comments.bringIn(two.id, sender, comments),
    ]).toEqual([0, { added: 2, known: 0, lost: 0 }, { added: 0, known: 2, lost: 0 }]);
    const list = await runtime.comments.list(two.id);
    expect(list).toMatchObject([
      { body: "Why *here*?", name: "Ida", at: 2 * S, until: 3 * S, replyTo: null },
      { body: "Ah", name: "Ida", at: 2 * S },
    ]);
    expect(list[1]!.replyTo).toBe(list[0]!.id);
  });
});

it("answers are taken while a recording still grows, up to where it has come", async () => {
  const { init, segments } = makeTrack("microphone", 6);
  const take = await runtime.takes.start(orla, { source: "voice", title: "Growing", audience: "anyone" });
  await runtime.ingest.putInit(take.takeId, "microphone", Buffer.from(init), sha256(init));
  await runtime.ingest.putSegment(take.takeId, "microphone", 1, Buffer.from(segments[0]!), sha256(segments[0]!));
  const ida = await guest((await runtime.access.byToken(take.token))!).as("Ida");
  await ida.say(comment("Now", S));
  await ida.plays([0, 2]);
  await expect(ida.say(comment("Not yet", 5 * S))).rejects.toMatchObject({ code: "beyond-the-end" });
  await runtime.ingest.putSegment(take.takeId, "microphone", 2, Buffer.from(segments[1]!), sha256(segments[1]!));
  await runtime.ingest.putSegment(take.takeId, "microphone", 3, Buffer.from(segments[2]!), sha256(segments[2]!));
  await ida.say(comment("Then", 5 * S));
});

describe("reactions", () => {
  it("are put at a moment and taken back by who gave them", async () => {
    const recording = await fresh();
    const [ida, tom] = [await guest(recording).visit(), await guest(recording).visit()];
    const id = await ida.say({ do: "react", kind: "got-it", at: 2 * S });
    expect(await runtime.reactions.list(recording.id)).toMatchObject([{ id, kind: "got-it", at: 2 * S, name: null }]);
    await expect(tom.say({ do: "unreact", id })).rejects.toMatchObject({ status: 404 });
    await ida.say({ do: "unreact", id });
    expect(await runtime.reactions.list(recording.id)).toEqual([]);
    const shy = await guest(recording).as("Wren");
    await shy.visit({ named: false });
    await shy.say({ do: "react", kind: "not-clear", at: S });
    expect(await runtime.reactions.list(recording.id)).toMatchObject([{ kind: "not-clear", name: null }]);
    expect((await inbox(orla, "unclear"))[0]).toMatchObject({ kind: "not-clear", who: null });
  });
});

describe("an ask", () => {
  const ask = (kind: "nod" | "choice" | "words", more: object = {}) =>
    askForm.validate({ kind, question: "Which?", choices: kind === "choice" ? ["Putty", "Bead"] : [], ...more }).value;

  it("is not replaced unseen: of two windows the second one is told", async () => {
    const recording = await fresh();
    await runtime.asks.set(recording.id, ask("nod"), 0);
    const { edit } = await runtime.asks.of(recording.id);
    await runtime.asks.set(recording.id, ask("words"), edit);
    const late = [runtime.asks.set(recording.id, ask("choice"), edit), runtime.asks.set(recording.id, ask("nod"), 0)];
    for (const tried of late) await expect(tried).rejects.toMatchObject({ status: 409, message: /to “Which\?”/ });
    expect((await runtime.asks.of(recording.id)).kind).toBe("words");
    const none = { kind: "nothing", question: "", choices: [], due: null, zone: "UTC" } as const;
    await runtime.asks.set(recording.id, { ...none, choices: [] }, (await runtime.asks.of(recording.id)).edit);
    await expect(runtime.asks.set(recording.id, ask("nod"), edit)).rejects.toThrow(/Nothing is asked any more/);
    // Asked anew it is another edit, though there was none before it.
    await runtime.asks.set(recording.id, ask("nod"), 0);
    await expect(runtime.asks.set(recording.id, ask("nod"), edit)).rejects.toMatchObject({ status: 409 });
  });

  it("is answered, changed until it is closed, and refused after", async () => {
    const recording = await fresh();
    const ida = await guest(recording).visit();
    await expect(ida.say({ do: "answer", answer: { kind: "nod" } })).rejects.toMatchObject({ code: "no-name" });
    await ida.say({ do: "name", name: "Ida" });
    await expect(ida.say({ do: "answer", answer: { kind: "nod" } })).rejects.toThrow(/Nothing is asked/);
    await runtime.asks.set(recording.id, ask("nod"));
    await ida.say({ do: "answer", answer: { kind: "not-clear", at: 2 * S, words: "The rod" } });
    expect(await people(recording)).toMatchObject([{ group: "answered", answer: { kind: "not-clear", at: 2 * S } }]);
    await ida.say({ do: "answer", answer: { kind: "nod" } });
    await runtime.asks.close(recording.id, true);
    await expect(ida.say({ do: "answer", answer: { kind: "not-clear", at: 0, words: "" } })).rejects.toThrow(/closed/);
    expect(await people(recording)).toMatchObject([{ answer: { kind: "nod" } }]);
    // Another question: what answered the first one is no answer to it.
    await runtime.asks.set(recording.id, ask("choice"));
    expect((await people(recording))[0]).toMatchObject({ group: "opened", answer: null });
    await expect(ida.say({ do: "answer", answer: { kind: "choice", choice: 4 } })).rejects.toThrow(/Choose/);
  });

  it("an answer to another question is none to this one, whatever its choice was", async () => {
    const recording = await fresh();
    await runtime.invites.add(recording.id, "Ida");
    const [{ invite } = { invite: null }] = await people(recording);
    await runtime.asks.set(recording.id, ask("choice"));
    const ida = await guest(recording).as("Ida");
    await ida.visit({ invite: invite!.key });
    const { version } = await runtime.asks.of(recording.id);
    await ida.say({ do: "answer", answer: { kind: "choice", choice: 0 }, version });
    expect((await people(recording))[0]).toMatchObject({ group: "answered", answer: { choice: 0 } });
    // Another day is the same question.
    await runtime.asks.set(recording.id, ask("choice", { due: "2026-12-01" }));
    expect((await people(recording))[0]!.group).toBe("answered");
    await runtime.asks.set(recording.id, ask("choice", { choices: ["Bead", "Putty"] }));
    expect((await people(recording))[0]).toMatchObject({ group: "opened", answer: null });
    await expect(ida.say({ do: "answer", answer: { kind: "choice", choice: 1 }, version })).rejects.toThrow(
      /something else now/,
    );
    // Asked nothing, then the same again: still another question.
    await runtime.asks.set(recording.id, { kind: "nothing", question: "", choices: [], due: null, zone: "UTC" });
    await runtime.asks.set(recording.id, ask("choice"));
    expect((await people(recording))[0]!.answer).toBeNull();
    expect(await inbox(orla)).toContainEqual(
      expect.objectContaining({ kind: "answer", answer: null, words: "An answer to what you asked before." }),
    );
  });

  it("is answered by those who were asked: the library, the people and the figures say the same", async () => {
    const recording = await fresh("Who has answered");
    await runtime.asks.set(recording.id, ask("nod", { due: "2026-11-20" }));
    await runtime.invites.add(recording.id, "Ida Marsh, Wren");
    for (const name of ["Stranger", "Another"]) {
      await (await guest(recording).as(name)).say({ do: "answer", answer: { kind: "nod" } });
    }
    const query = { q: "Who has answered", sort: "newest", show: "kept", group: null, after: null } as const;
    const standing = async () => {
      const [row] = (await runtime.library.page(orla, query)).rows;
      const all = await people(recording, Date.now());
      const invited = all.filter((p) => p.invite);
      const [figures] = (await runtime.figures.all(orla)).filter((r) => r.id === recording.id);
      expect(row!.back!.ask).toMatchObject({
        asked: invited.length,
        answered: invited.filter((p) => p.group === "answered").length,
        overdue: all.some((p) => p.overdue),
        notClear: all.filter((p) => p.answer?.kind === "not-clear").length,
        others: all.filter((p) => !p.invite && p.answer).length,
      });
      expect([figures!.asked, figures!.answered]).toEqual([row!.back!.ask!.asked, row!.back!.ask!.answered]);
      return row!.back!.ask!;
    };
    expect(await standing()).toMatchObject({ answered: 0, others: 2, overdue: true });
    const keys = new Map((await people(recording)).map((p) => [p.name, p.invite?.key ?? null]));
    for (const name of ["Ida Marsh", "Wren"]) {
      const browser = await guest(recording).visit({ invite: keys.get(name) });
      await browser.say({ do: "name", name });
      await browser.say({ do: "answer", answer: { kind: "not-clear", at: 0, words: "" } });
    }
    expect(await standing()).toMatchObject({ answered: 2, notClear: 2, overdue: false });
    await runtime.asks.set(recording.id, ask("words", { due: "2026-11-20" }));
    expect(await standing()).toMatchObject({ answered: 0, notClear: 0, others: 0, overdue: true });
    await runtime.asks.close(recording.id, true);
    expect(await standing()).toMatchObject({ overdue: false });
  });

  it("is needed by the end of its day where the sender is", async () => {
    const recording = await fresh();
    // From memory: Auckland is 13 hours ahead of UTC in November, Honolulu 10 hours behind.
    for (const [zone, ends] of [
      ["Pacific/Auckland", "2026-11-20T11:00:00Z"],
      ["Pacific/Honolulu", "2026-11-21T10:00:00Z"],
      ["UTC", "2026-11-21T00:00:00Z"],
    ]) {
      await runtime.asks.set(recording.id, ask("nod", { due: "2026-11-20", zone }));
      expect(new Date((await runtime.asks.of(recording.id)).dueEnds!).toISOString()).toBe(ends!.replace("Z", ".000Z"));
    }
  });

  it("is not answered by the sender, nor about a moment that is not there", async () => {
    const recording = await fresh();
    await runtime.asks.set(recording.id, ask("nod"));
    const sender = await new Browser(runtime, recording, orla).visit();
    await expect(sender.say({ do: "answer", answer: { kind: "nod" } })).rejects.toMatchObject({ code: "own-ask" });
    const ida = await guest(recording).as("Ida");
    await expect(ida.say({ do: "answer", answer: { kind: "not-clear", at: 60 * S, words: "" } })).rejects.toMatchObject(
      { code: "beyond-the-end" },
    );
  });

  it("has everybody in one of four groups, by name or address, and knows who is late", async () => {
    const recording = await fresh();
    await runtime.asks.set(recording.id, ask("nod", { due: "2026-11-20" }));
    expect(await runtime.invites.add(recording.id, `Ida Marsh, tom@marsh.example, ${bram.email}, Wren`)).toBe(4);
    expect(await runtime.invites.add(recording.id, `TOM@marsh.example; ida marsh`)).toBe(1);
    const keys = new Map((await people(recording)).map((p) => [p.name, p.invite!.key]));
    // Two browsers of one person are one person.
    const ida = await guest(recording).visit({ invite: keys.get("Ida Marsh") });
    await ida.plays([0, 5]);
    await guest(recording).visit({ invite: keys.get("Ida Marsh") });
    await (await guest(recording).visit({ invite: keys.get("tom") })).say({ do: "name", name: "Thomas" });
    const nods = await new Browser(runtime, recording, bram).visit();
    await nods.say({ do: "answer", answer: { kind: "nod" } });
    await guest(recording).visit();
    const rows = await people(recording);
    expect(rows.map((p) => [p.name, p.group, p.overdue])).toEqual(
      expect.arrayContaining([
        ["Ida Marsh", "watched", true],
        ["tom", "opened", true],
        ["Bram Lark", "answered", false],
        ["Wren", "not-opened", true],
        [null, "opened", false],
      ]),
    );
    expect(rows.find((p) => p.name === "Ida Marsh")!.numbers).toHaveLength(2);
    await runtime.invites.remove(recording.id, rows.find((p) => p.name === "tom")!.invite!.id);
    expect((await people(recording)).map((p) => p.name)).toContain("Thomas");
  });

  it("names nobody who asked not to be named, until they answer", async () => {
    const recording = await fresh();
    await runtime.asks.set(recording.id, ask("nod"));
    await runtime.invites.add(recording.id, "Ida");
    const invite = (await people(recording))[0]!.invite!;
    const ida = await guest(recording).visit({ invite: invite.key, named: false });
    await ida.plays([0, 5]);
    const before = await runtime.people(recording.id, await runtime.asks.of(recording.id), NOW);
    expect(before).toMatchObject({
      rows: [{ name: "Ida", group: "not-opened", share: 0 }],
      unnamed: { opened: 1, watched: 1 },
    });
    await ida.say({ do: "name", name: "Ida M" });
    await ida.say({ do: "answer", answer: { kind: "nod" } });
    expect((await people(recording))[0]).toMatchObject({ name: "Ida", group: "answered", share: 0, numbers: [] });
  });

  it("counts in every group whom it lists there, and those who asked not to be named beside", async () => {
    const recording = await fresh();
    await runtime.asks.set(recording.id, ask("nod"));
    await runtime.invites.add(recording.id, "Ida, Wren, Tom");
    const invites = (await people(recording)).map((p) => p.invite!.key);
    let unnamed = 0;
    // Every mixture of: asked, named, watched and answered; one of each.
    for (let mix = 0; mix < 16; mix++) {
      const [asked, named, watched, answered] = [1, 2, 4, 8].map((bit) => (mix & bit) > 0);
      const came = await guest(recording).visit({ invite: asked ? invites[mix % 3] : null, named });
      if (watched) await came.plays([0, 5]);
      await came.say({ do: "name", name: `Guest ${mix}` });
      if (answered) await came.say({ do: "answer", answer: { kind: "nod" } });
      if (!named && !answered) unnamed++;
    }
    const all = await runtime.people(recording.id, await runtime.asks.of(recording.id), NOW);
    for (const group of GROUPS) expect(all.groups[group]).toBe(all.rows.filter((p) => p.group === group).length);
    expect(all.more).toBe(0);
    expect(all.unnamed).toEqual({ opened: unnamed, watched: unnamed / 2 });
  });

  it("refuses addresses that are none, and adds nobody then", async () => {
    const recording = await fresh();
    await expect(runtime.invites.add(recording.id, "Ida, a@b")).rejects.toMatchObject({ code: "no-address" });
    expect(await people(recording)).toEqual([]);
  });
});

describe("what waits for a member", () => {
  it("is what others say on their recordings, in their threads, and what they owe; read by each for themselves", async () => {
    const member = await newMember(runtime, "Suri Vale");
    const colleague = await colleagueOf(runtime, member);
    const recording = await sharedRecording(runtime, member);
    const ida = await guest(recording).as("Ida");
    const thread = await ida.say(comment("Which course?", 2 * S));
    await ida.say({ do: "react", kind: "not-clear", at: 3 * S });
    await ida.say({ do: "react", kind: "smile", at: 3 * S });
    await runtime.asks.set(recording.id, { kind: "nod", question: "", choices: [], due: null, zone: "UTC" });
    await runtime.invites.add(recording.id, colleague.email);
    await ida.say({ do: "answer", answer: { kind: "not-clear", at: S, words: "All of it" } });
    const kinds = async (who: SignedIn) => (await inbox(who)).map((w) => w.kind);
    expect((await kinds(member)).sort()).toEqual(["not-clear", "not-clear", "question"]);
    expect(await kinds(colleague)).toEqual(["owed"]);
    expect([await runtime.inbox.unread(member.id), await runtime.inbox.unread(colleague.id)]).toEqual([3, 1]);

    const bramThere = await new Browser(runtime, recording, colleague).visit();
    await bramThere.say({ do: "reply", to: thread, body: "From below" });
    await ida.say({ do: "reply", to: thread, body: "Thanks" });
    expect(await kinds(colleague)).toEqual(["owed", "reply"]);
    await bramThere.say({ do: "answer", answer: { kind: "nod" } });
    expect(await kinds(colleague)).toEqual(["reply"]);

    const mine = await inbox(member);
    await runtime.inbox.mark(member.id, { do: "read", subjects: mine.map((w) => w.subject) });
    expect([await runtime.inbox.unread(member.id), await runtime.inbox.unread(colleague.id)]).toEqual([0, 1]);
    // What is changed after it was read is new again.
    await ida.say({ do: "answer", answer: { kind: "nod" } });
    expect(await runtime.inbox.unread(member.id)).toBe(1);
    expect((await inbox(member, "unread")).map((w) => w.answer?.kind)).toEqual(["nod"]);

    await runtime.library.delete(member, recording.id);
    expect(await kinds(member)).toEqual([]);
  });
});

describe("what waits for a member, when there is much of it", () => {
  it("comes in pages, newest first, and what cannot be opened hides nothing", async () => {
    const member = await newMember(runtime, "Suri Vale");
    const kept = await sharedRecording(runtime, member);
    const gone = await sharedRecording(runtime, member);
    const ida = await new Browser(runtime, kept).as("Ida");
    const question = await ida.say(comment("Which course?"));
    const flood = (recording: KnownRecording, viewerId: string, count: number, body: string) =>
      runtime.db.rows(
        `insert into comments (id, recording_id, viewer_id, body, at_us, created_at)
         select gen_random_uuid(), $1, $2, $4, 0, now() + n * interval '1 second' from generate_series(1, $3::int) n returning id`,
        [recording.id, viewerId, count, body],
      );
    const tom = await new Browser(runtime, gone).as("Tom");
    await flood(gone, (await tom.viewer())!.id, 400, "Noise");
    await runtime.library.delete(member, gone.id);
    expect((await inbox(member)).map((w) => w.subject)).toEqual([question]);
    await flood(kept, (await ida.viewer())!.id, 120, "More");
    const seen: string[] = [];
    for (let after: string | null = null, n = 0; n === 0 || after !== null; n++) {
      const page: InboxPage = await runtime.inbox.page(member.id, { show: "all", after });
      seen.push(...page.waiting.map((w) => w.subject));
      after = page.next;
    }
    expect([seen.length, new Set(seen).size, seen.at(-1)]).toEqual([121, 121, question]);
    expect((await inbox(member, "questions")).map((w) => w.subject)).toEqual([question]);
    expect(await runtime.inbox.unread(member.id)).toBe(100);
    await expect(runtime.inbox.page(member.id, { show: "all", after: "made-up" })).rejects.toMatchObject({
      status: 400,
    });
  });

  it("goes when it is taken back, and comes anew when it is changed", async () => {
    const member = await newMember(runtime, "Suri Vale");
    const recording = await sharedRecording(runtime, member);
    const ida = await new Browser(runtime, recording).as("Ida");
    const id = await ida.say(comment("Which course?"));
    await runtime.inbox.mark(member.id, { do: "read", subjects: [id] });
    expect(await runtime.inbox.unread(member.id)).toBe(0);
    await ida.say({ do: "edit", id, body: "Which course, please?", version: 1 });
    expect(await inbox(member, "unread")).toMatchObject([{ subject: id, words: "Which course, please?" }]);
    await ida.say({ do: "remove", id });
    expect(await inbox(member)).toEqual([]);
  });
});

describe("what comes in", () => {
  it.each([
    [{ do: "comment", body: " ", at: 0 }, /Write something/],
    [{ do: "comment", body: "x".repeat(2_001), at: 0 }, /at most 2000/],
    [{ do: "comment", body: "x", at: -1 }, /at/],
    [{ do: "comment", body: "x", at: 1.5 }, /at/],
    [{ do: "comment", body: "x", at: 5, until: 5 }, /ends before/],
    [{ do: "react", kind: "love", at: 0 }, /kind/],
    [{ do: "edit", id: "1; drop table comments", body: "x", version: 1 }, /id/],
    [{ do: "name", name: "\u202e \u0000" }, /Give your name/],
    [{ do: "answer", version: 1, answer: { kind: "choice", choice: -1 } }, /answer/],
    [{ do: "answer", answer: { kind: "nod" } }, /version/],
    [{ do: "become-admin" }, /do/],
    [[], /object/],
    [null, /object/],
  ])("%j is refused with a reason", (said, why) => expect(sayForm.validate(said).error?.message ?? "").toMatch(why));

  it("keeps the words and loses disguises", () => {
    expect(sayForm.validate({ do: "comment", body: "<script>alert(1)</script>\u202e", at: 0 }).value).toEqual({
      do: "comment",
      id: expect.stringMatching(/^[\da-f-]{36}$/),
      body: "<script>alert(1)</script>",
      at: 0,
      revision: null,
      until: null,
    });
    expect(sayForm.validate({ do: "answer", version: 3, answer: { kind: "not-clear", at: 5 } }).value.answer).toEqual({
      kind: "not-clear",
      at: 5,
      words: "",
    });
  });

  it("asks and spans are checked as well", () => {
    expect(askForm.validate({ kind: "choice", question: "Which?", choices: ["a", "", "b"] }).value.choices).toEqual([
      "a",
      "b",
    ]);
    expect(askForm.validate({ kind: "choice", question: "Which?", choices: ["a"] }).error!.message).toMatch(/2 to 5/);
    for (const due of ["2026-13-01", "2026-02-31", "2026-2-3", "9999-99-99", "0001-01-01"]) {
      expect(askForm.validate({ kind: "nod", due }).error!.message).toMatch(/no date/);
    }
    expect(askForm.validate({ kind: "nod", zone: "Mars/Olympus" }).value.zone).toBe("UTC");
    expect(askForm.validate({ kind: "nod", due: "" }).value.due).toBeNull();
    expect(inviteForm.validate({ who: "" }).error!.message).toMatch(/Give a name/);
    const batch = "0d5b5bd8-0000-4000-8000-000000000001";
    expect(wrongField(spansForm, { batch, spans: [{ from: 5, to: 5, rate: 1 }] })).toBe("spans.0.to");
    const many = Array.from({ length: 501 }, () => ({ from: 0, to: 5, rate: 1 }));
    expect(wrongField(spansForm, { batch, spans: many })).toBe("spans");
  });
});
