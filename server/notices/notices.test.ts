import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import type { NewAsk } from "#core/answers/kinds";
import { FIRST_WISHES, NOTICE_KINDS, type NoticeWishes } from "#core/notices/wishes";
import { Browser, sharedRecording } from "../../testing/answers";
import { codeOf, colleagueOf, freshRuntime, newMember } from "../../testing/server";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";
import { wishesForm } from "./wishes";

const S = 1_000_000;
let runtime: Runtime;
let suri: SignedIn;
let bram: SignedIn;
// As in the sample: letters are kept, and can be read.
beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"), { DEMO: "on" })));
beforeEach(async () => {
  suri = await newMember(runtime, "Suri Vale");
  bram = await colleagueOf(runtime, suri);
});
afterAll(() => runtime.close());

const noEnd = new AbortController().signal;
const comment = (body: string) => ({ do: "comment" as const, body, at: 2 * S, until: null });
/** Time passes for everything that waits. */
async function later(minutes: number): Promise<void> {
  const back = `interval '${minutes} minutes'`;
  await runtime.db.rows(`update inbox set at = at - ${back}, due_at = due_at - ${back} returning subject`);
  await runtime.db.rows(`update people set told_at = told_at - ${back} where told_at is not null returning id`);
  await runtime.db.rows(`update folder_people set told_at = told_at - ${back} where told_at is not null returning id`);
  await runtime.db.rows(`update folder_news set at = at - ${back}, due_at = due_at - ${back} returning recording_id`);
}
/** What an address was mailed as news so far. */
async function mails(address: string, kind = "notice") {
  const all = await runtime.db.models.Mail.findAll({ where: { toAddress: address, kind }, order: ["madeAt"] });
  return all.map(({ subject, text }) => ({ subject, text }));
}
async function told(address: string, minutes = 2) {
  await later(minutes);
  await runtime.teller.tell(noEnd);
  return mails(address);
}
const wish = (over: Partial<NoticeWishes>) => ({ ...FIRST_WISHES, ...over });
const waits = async (who: SignedIn) =>
  (await runtime.inbox.page(who.id, { show: "all", after: null })).waiting.map((w) => w.kind);
const guest = (recording: KnownRecording, name = "Ida") => new Browser(runtime, recording).as(name);

describe("what is told by mail", () => {
  it("is gathered for a moment, said in one letter, and said once", async () => {
    const recording = await sharedRecording(runtime, suri, "Pane schedule");
    const ida = await guest(recording);
    await ida.say(comment("Bay C, or bay D?"));
    await runtime.teller.tell(noEnd);
    expect(await mails(suri.email)).toEqual([]);
    await ida.say({ do: "react", kind: "not-clear", at: S });
    const [mail, ...more] = await told(suri.email);
    expect(more).toEqual([]);
    expect(mail!.subject).toBe("2 news: Pane schedule");
    expect(mail!.text).toContain("Ida comments at 0:02: “Bay C, or bay D?”");
    expect(mail!.text).toContain("not clear yet at 0:01");
    expect(mail!.text).toContain(`/w/${recording.token}`);
    expect(mail!.text).toContain("/account#notices");
    expect(await told(suri.email, 60 * 24 * 8)).toHaveLength(1);
  });

  it("is not what was read meanwhile, was taken back, or may not be seen any more", async () => {
    const recording = await sharedRecording(runtime, suri);
    const ida = await guest(recording);
    const read = await ida.say(comment("Read"));
    await runtime.inbox.mark(suri.id, { do: "read", subjects: [read] });
    await ida.say({ do: "remove", id: await ida.say(comment("Taken back")) });
    expect(await told(suri.email)).toEqual([]);
    await ida.say(comment("Of what is gone"));
    await runtime.library.delete(suri, recording.id);
    expect(await told(suri.email)).toEqual([]);
  });

  it("is told once, also where several processes tell at the same time", async () => {
    const recording = await sharedRecording(runtime, suri);
    const ida = await guest(recording);
    for (let i = 0; i < 5; i++) await ida.say(comment(`Comment ${i}`));
    await later(2);
    await Promise.all([1, 2, 3].map(() => runtime.teller.tell(noEnd)));
    expect((await mails(suri.email)).map(({ subject }) => subject)).toEqual(["5 news: How the ridge vent closes"]);
  });

  it("comes in letters that are ten minutes apart, however much is said", async () => {
    const ida = await guest(await sharedRecording(runtime, suri));
    for (const minutes of [2, 2, 2, 2, 3]) {
      await ida.say(comment("More"));
      await told(suri.email, minutes);
    }
    expect((await mails(suri.email)).map(({ subject }) => subject.slice(0, 12))).toEqual(["Ida comments"]);
    expect((await told(suri.email)).map(({ subject }) => subject.slice(0, 6))).toEqual(["Ida co", "4 news"]);
  });

  it("comes once a day where it is wanted so, all of it in one letter", async () => {
    const recording = await sharedRecording(runtime, suri);
    await runtime.wishes.save(suri, wish({ mail: { ...FIRST_WISHES.mail, comment: "day", "not-clear": "day" } }));
    const ida = await guest(recording);
    await ida.say(comment("In the morning"));
    await ida.say({ do: "react", kind: "not-clear", at: S });
    await runtime.teller.tell(noEnd);
    const [due] = await runtime.db.rows<{ hour: number; ahead: boolean }>(
      `select extract(hour from due_at at time zone 'utc')::int as hour, due_at > now() as ahead
         from inbox where person_id = $1 limit 1`,
      [suri.id],
    );
    expect(due).toEqual({ hour: 8, ahead: true });
    expect(await mails(suri.email)).toEqual([]);
    expect((await told(suri.email, 60 * 25)).map(({ subject }) => subject)).toEqual([
      "2 news: How the ridge vent closes",
    ]);
  });

  it("is never what is never wanted, and at once what is wanted otherwise before its time has come", async () => {
    const recording = await sharedRecording(runtime, suri);
    const ida = await guest(recording);
    const never = wish({ mail: Object.fromEntries(NOTICE_KINDS.map((k) => [k, "never"])) as NoticeWishes["mail"] });
    await runtime.wishes.save(suri, never);
    await ida.say(comment("Unheard"));
    expect(await told(suri.email, 60 * 24 * 8)).toEqual([]);
    await runtime.wishes.save(suri, wish({ mail: { ...FIRST_WISHES.mail, comment: "week" } }));
    await ida.say(comment("Gathered"));
    expect(await told(suri.email)).toEqual([]);
    await runtime.wishes.save(suri, FIRST_WISHES);
    expect((await told(suri.email)).map(({ text }) => text!.includes("Gathered"))).toEqual([true]);
  });

  it("has what was answered in words, and who has opened it where that is wanted", async () => {
    const recording = await sharedRecording(runtime, suri);
    await runtime.invites.add(recording.id, "Hester Quill <hester@quill.example>");
    const invite = (await runtime.db.models.Invite.findOne({ where: { recordingId: recording.id } }))!;
    const choice: NewAsk = { kind: "choice", question: "Which?", choices: ["Putty", "Bead"], due: null, zone: "UTC" };
    await runtime.asks.set(recording.id, choice);
    await runtime.wishes.save(
      suri,
      wish({ hidden: ["answer"], mail: { ...FIRST_WISHES.mail, view: "now", answer: "now" } }),
    );
    const hester = await new Browser(runtime, recording).visit({ invite: invite.key });
    await hester.say({ do: "name", name: "Hester Quill" });
    await hester.say({ do: "answer", answer: { kind: "choice", choice: 1 } });
    const [mail] = await told(suri.email);
    expect(mail!.text).toContain("Hester Quill has opened it");
    expect(mail!.text).toContain("Hester Quill answers: “Bead”");
    // What is not to stand in Answers does not, and counts for nothing there.
    expect(await waits(suri)).toEqual(["view"]);
    expect(await runtime.inbox.unread(suri.id)).toBe(1);
  });

  it("of reactions, openings and what has arrived keeps nothing for whoever has not chosen it", async () => {
    const unwanted = NOTICE_KINDS.filter((k) => FIRST_WISHES.mail[k] === "never" && FIRST_WISHES.hidden.includes(k));
    expect(unwanted.sort()).toEqual(["reaction", "ready", "view"]);
    const recording = await sharedRecording(runtime, suri);
    await (await guest(recording)).say({ do: "react", kind: "thanks", at: S });
    expect(await runtime.db.models.InboxItem.count({ where: { personId: suri.id } })).toBe(0);
    await runtime.wishes.save(suri, wish({ hidden: [] }));
    await (await guest(recording, "Tom")).say({ do: "react", kind: "thanks", at: S });
    await sharedRecording(runtime, suri);
    expect((await waits(suri)).sort()).toEqual(["reaction", "ready"]);
  });

  it("ends with one press, alone; choosing anew how one is told begins it again", async () => {
    const recording = await sharedRecording(runtime, suri);
    const ida = await guest(recording);
    await ida.say(comment("One"));
    const [mail] = await told(suri.email);
    const [link] = /[^/]+\.news$/m.exec(mail!.text!)!;
    expect(runtime.post.refusalBy(link)).toEqual({ address: suri.email, what: "news" });
    // Of a link that ends news none is made that ends the rest, nor the other way round.
    for (const other of [link.replace(".news", ""), link.replace(".news", ".sent"), link.replace(".news", ".all")])
      expect(() => runtime.post.refusalBy(other)).toThrow(/nothing at this address/);
    const carried = async () => {
      const { Mail } = runtime.db.models;
      for (const { id } of await Mail.findAll({ where: { toAddress: suri.email, sentAt: null } }))
        await runtime.post.carry(id);
      return Mail.count({ where: { toAddress: suri.email, failed: null } });
    };
    expect(await carried()).toBe(1);
    await runtime.post.setRefusal(link, true);
    await ida.say(comment("Two"));
    expect([(await told(suri.email, 12)).length, await carried()]).toEqual([2, 1]);
    expect(await runtime.post.refuses(suri.email, "sent")).toBe(false);
    await runtime.wishes.save(suri, FIRST_WISHES);
    await ida.say(comment("Three"));
    expect([(await told(suri.email, 12)).length, await carried()]).toEqual([3, 2]);
  });

  it("of much is short", async () => {
    const recording = await sharedRecording(runtime, suri);
    const ida = await guest(recording);
    await runtime.db.rows(
      `insert into comments (id, recording_id, viewer_id, body, at_us)
       select gen_random_uuid(), $1, $2, 'More', 0 from generate_series(1, 2000) n returning id`,
      [recording.id, (await ida.viewer())!.id],
    );
    const [mail, ...more] = await told(suri.email);
    expect(more).toEqual([]);
    expect(mail!.text!.length).toBeLessThan(2_000);
    expect(mail!.text).toContain("1700 more wait in Answers");
  });
});

describe("a take whose rest does not come", () => {
  it("is told once, and no more when it is there", async () => {
    const { takeId } = await runtime.takes.start(suri, { source: "voice", title: "Cut off", audience: "anyone" });
    await runtime.teller.tell(noEnd);
    expect(await waits(suri)).toEqual([]);
    await runtime.db.rows("update takes set heard_at = now() - interval '40 minutes' where id = $1 returning id", [
      takeId,
    ]);
    await runtime.teller.tell(noEnd);
    expect(await waits(suri)).toEqual(["trouble"]);
    expect((await told(suri.email)).map(({ subject }) => subject)).toEqual(["Not all has arrived: Cut off"]);
    expect(await told(suri.email)).toHaveLength(1);
    await runtime.db.rows("update takes set state = 'complete' where id = $1 returning id", [takeId]);
    expect(await waits(suri)).toEqual([]);
  });
});

describe("what is new in a folder", () => {
  const folderOf = async (who: string, name = "Bay C") => {
    const id = await runtime.folders.make(suri, { name, parentId: null });
    if (who) await runtime.folderPeople.add(suri, id, { who, may: "view" }, "198.51.100.7");
    return id;
  };
  const put = (recordings: string[], to: string | null, open = true) =>
    runtime.folderContents.put(suri, { recordings, to, open });
  const client = () => `client${Math.random().toString(36).slice(2)}@quill.example`;
  const bearer = async (id: string) => {
    const { key } = (await runtime.db.models.FolderPerson.findOne({ where: { folderId: id, personId: null } }))!;
    return { key, subject: { id: null, memberships: [], passes: [(await runtime.doors.personal(key)).pass] } };
  };

  it("is told once to everybody with access: in Answers, and by mail to clients with links of their own", async () => {
    const hester = client();
    const id = await folderOf(`Hester Quill <${hester}>, ${bram.email}`);
    const { key } = await bearer(id);
    const a = await sharedRecording(runtime, suri, "Sashes");
    const b = await sharedRecording(runtime, suri, "Gears");
    await put([a.id, b.id], id);
    expect(await waits(bram)).toEqual(["folder", "folder"]);
    expect(await waits(suri)).toEqual([]);
    const [mail, ...more] = await told(hester);
    expect(more).toEqual([]);
    expect(mail!.subject).toBe("2 new recordings in “Bay C”");
    expect(mail!.text).toContain(`/for/${key}?to=${a.token}`);
    expect(mail!.text).toContain("Suri Vale");
    // Colleagues are told once a day at first.
    expect(await mails(bram.email)).toEqual([]);
    expect(await told(bram.email, 60 * 25)).toMatchObject([{ subject: "2 new recordings in “Bay C”" }]);
    await put([a.id], null);
    await put([a.id], id);
    expect(await told(hester, 60 * 25)).toHaveLength(1);
    expect(await mails(bram.email)).toHaveLength(1);
  });

  it("is what can be seen: no draft until it is shared, nothing before it opens, nothing that went meanwhile", async () => {
    const hester = client();
    const id = await folderOf(`Hester Quill <${hester}>, ${bram.email}`);
    const { id: draft } = await sharedRecording(runtime, suri, "Draft");
    await runtime.sharing.change(suri, draft, { audience: "owner" });
    await put([draft], id, false);
    expect([await told(hester), await waits(bram)]).toEqual([[], []]);
    await runtime.sharing.change(suri, draft, { audience: "folder" });
    expect(await told(hester)).toMatchObject([{ subject: "New in “Bay C”: Draft" }]);
    expect(await waits(bram)).toEqual(["folder"]);
    const { id: soon } = await sharedRecording(runtime, suri, "Tomorrow");
    await runtime.sharing.change(suri, soon, { opensAt: new Date(Date.now() + 86_400_000) });
    await put([soon], id);
    expect(await told(hester)).toHaveLength(1);
    expect(await waits(bram)).toEqual(["folder"]);
    await runtime.sharing.change(suri, soon, { opensAt: null });
    expect(await told(hester, 60 * 25)).toMatchObject([{}, { subject: "New in “Bay C”: Tomorrow" }]);
    const { id: gone } = await sharedRecording(runtime, suri, "Gone");
    await put([gone], id);
    await put([gone], null);
    await runtime.sharing.change(suri, gone, { audience: "owner" });
    expect(await told(hester)).toHaveLength(2);
  });

  it("is told of a folder above, of one that is open to the workspace, and not of a take that still comes", async () => {
    const hester = client();
    const above = await folderOf(`Hester Quill <${hester}>`);
    const id = await runtime.folders.make(suri, { name: "Gears", parentId: above });
    await runtime.folders.openTo(suri, above, "view");
    const { recordingId, takeId } = await runtime.takes.start(suri, {
      source: "voice",
      title: "Comes",
      audience: "anyone",
    });
    await put([recordingId], id);
    expect([await told(hester), await waits(bram)]).toEqual([[], []]);
    await runtime.db.rows("update takes set state = 'complete' where id = $1 returning id", [takeId]);
    await runtime.db.models.Recording.update({ durationUs: 5 * S }, { where: { id: recordingId } });
    expect(await told(hester)).toMatchObject([{ subject: "New in “Gears”: Comes" }]);
    expect(await waits(bram)).toEqual(["folder"]);
  });

  it("comes when a client wants it; nobody else chooses for them", async () => {
    const hester = client();
    const id = await folderOf(`Hester Quill <${hester}>`);
    const { subject } = await bearer(id);
    expect(await runtime.folderPeople.newsFor(subject, id)).toBe("now");
    await runtime.folderPeople.setNews(subject, id, { news: "never", zone: "UTC" });
    await put([(await sharedRecording(runtime, suri)).id], id);
    expect(await told(hester, 60 * 24 * 8)).toEqual([]);
    await runtime.folderPeople.setNews(subject, id, { news: "week", zone: "UTC" });
    await put([(await sharedRecording(runtime, suri, "Weekly")).id], id);
    expect(await told(hester)).toEqual([]);
    expect(await told(hester, 60 * 24 * 8)).toMatchObject([{ subject: "New in “Bay C”: Weekly" }]);
    const other = await folderOf("");
    for (const [who, where] of [
      [bram, id],
      [null, id],
      [subject, other],
    ] as const)
      expect(await codeOf(runtime.folderPeople.setNews(who, where, { news: "now", zone: "UTC" }))).toBe("not-found");
  });

  it("reaches nobody whose link was closed", async () => {
    const hester = client();
    const id = await folderOf(`Hester Quill <${hester}>`);
    const person = (await runtime.db.models.FolderPerson.findOne({ where: { folderId: id, name: "Hester Quill" } }))!;
    await put([(await sharedRecording(runtime, suri)).id], id);
    await runtime.folderPeople.remove(suri, id, person.id);
    expect(await told(hester)).toEqual([]);
  });
});

describe("reminders", () => {
  const nod = (over: Partial<NewAsk> = {}): NewAsk => {
    return { kind: "nod", question: "", choices: [], due: null, zone: "UTC", ...over };
  };
  const day = (ahead: number) => new Date(Date.now() + ahead * 86_400_000).toISOString().slice(0, 10);

  it("go to those who have not answered and can be reached, not twice within a day", async () => {
    const recording = await sharedRecording(runtime, suri, "Lead flashing");
    const address = `hester${recording.id.slice(0, 8)}@quill.example`;
    const answered = `wren${recording.id.slice(0, 8)}@quill.example`;
    expect(await codeOf(runtime.reminders.whom(recording.id))).toBe("nobody");
    await runtime.asks.set(recording.id, nod({ due: day(9) }));
    await runtime.invites.add(recording.id, `Hester <${address}>, Wren <${answered}>, Tom, ${bram.email}`);
    const wren = (await runtime.db.models.Invite.findOne({ where: { email: answered } }))!;
    const there = await new Browser(runtime, recording).visit({ invite: wren.key });
    await there.say({ do: "name", name: "Wren" });
    await there.say({ do: "answer", answer: { kind: "nod" } });
    await runtime.inbox.mark(bram.id, {
      do: "read",
      subjects: (await runtime.inbox.page(bram.id, { show: "owed", after: null })).waiting.map((w) => w.subject),
    });
    const whom = await runtime.reminders.whom(recording.id);
    expect(whom.map(({ name }) => name).sort()).toEqual(["Bram Lark", "Hester"]);
    // Two presses at once.
    const both = [1, 2].map(() => runtime.reminders.remind(recording.id, whom));
    expect((await Promise.all(both)).sort()).toEqual([0, 2]);
    const [mail, ...more] = await mails(address, "reminder");
    expect(more).toEqual([]);
    expect(mail!.subject).toBe("Not answered yet: Lead flashing");
    expect(mail!.text).toContain("Suri Vale waits for your answer, which is needed by");
    expect(mail!.text).toContain("/for/");
    expect(await mails(answered, "reminder")).toEqual([]);
    // A colleague is told in the way that they have chosen, and it is new for them again.
    expect(await runtime.inbox.unread(bram.id)).toBe(1);
    expect(await told(bram.email)).toMatchObject([{ subject: "Suri Vale asks you: Lead flashing" }]);
    await expect(runtime.reminders.whom(recording.id)).rejects.toThrow(/reminded within the last day/);
  });

  it("go by themselves the day before it is needed, once, to whoever was not asked just now", async () => {
    const recording = await sharedRecording(runtime, suri);
    const address = `hester${recording.id.slice(0, 8)}@quill.example`;
    const fresh = `late${recording.id.slice(0, 8)}@quill.example`;
    await runtime.asks.set(recording.id, nod({ due: day(3), reminds: true }));
    await runtime.invites.add(recording.id, `Hester <${address}>, Late <${fresh}>`);
    await runtime.db.models.Invite.update(
      { createdAt: new Date(Date.now() - 2 * 86_400_000) },
      { where: { email: address } },
    );
    await runtime.reminders.remindOfWhatIsDue();
    expect(await mails(address, "reminder")).toEqual([]);
    await runtime.asks.set(recording.id, nod({ due: day(1), reminds: true }));
    // The day ends at midnight: from eight o'clock of the day before on.
    await runtime.db.rows(
      "update asks set due_ends = now() + interval '39 hours' where recording_id = $1 returning 1 as n",
      [recording.id],
    );
    await Promise.all([runtime.reminders.remindOfWhatIsDue(), runtime.reminders.remindOfWhatIsDue()]);
    await runtime.reminders.remindOfWhatIsDue();
    expect([(await mails(address, "reminder")).length, await mails(fresh, "reminder")]).toEqual([1, []]);
  });

  it("are none where it is not wanted, closed, or cannot be opened", async () => {
    const recording = await sharedRecording(runtime, suri);
    const address = `hester${recording.id.slice(0, 8)}@quill.example`;
    await runtime.asks.set(recording.id, nod({ due: day(1) }));
    await runtime.invites.add(recording.id, `Hester <${address}>`);
    await runtime.db.models.Invite.update({ createdAt: new Date(0) }, { where: { email: address } });
    await runtime.reminders.remindOfWhatIsDue();
    await runtime.asks.set(recording.id, nod({ due: day(1), reminds: true }));
    await runtime.asks.close(recording.id, true);
    await runtime.reminders.remindOfWhatIsDue();
    await runtime.asks.close(recording.id, false);
    await runtime.sharing.change(suri, recording.id, { audience: "owner" });
    await runtime.reminders.remindOfWhatIsDue();
    expect(await codeOf(runtime.reminders.whom(recording.id))).toBe("nobody");
    expect(await mails(address, "reminder")).toEqual([]);
  });

  it("of a recording that was sent, nobody with an account is told a second time", async () => {
    const recording = await sharedRecording(runtime, suri);
    await runtime.asks.set(recording.id, nod());
    await runtime.invites.add(recording.id, bram.email);
    const people = await runtime.sender.toMail(recording.id, []);
    expect(await runtime.sender.send(suri, recording.id, { people, words: "" })).toBe(1);
    expect(await told(bram.email)).toEqual([]);
    expect(await waits(bram)).toEqual(["owed"]);
  });

  it("a first letter tells moments on the clock of who gets it, or of its sender where that is not known", async () => {
    const recording = await sharedRecording(runtime, suri);
    const guest = `ida-${bram.email}`;
    await runtime.invites.add(recording.id, `${bram.email}, ${guest}`);
    await runtime.sharing.change(suri, recording.id, { endsAt: new Date("2027-01-15T15:30:00Z") });
    const send = async () => {
      const people = await runtime.sender.toMail(recording.id, []);
      await runtime.sender.send(suri, recording.id, { people, words: "" });
    };
    const until = async (address: string) =>
      (await mails(address, "recording")).map(({ text }) => /open until (.*?)\./.exec(text!.replace(/\s+/g, " "))![1]);
    await send();
    expect(await until(guest)).toEqual(["Friday 15 January at 15:30 UTC"]);
    await runtime.wishes.save(suri, wish({ zone: "Asia/Tokyo" }));
    await runtime.wishes.save(bram, wish({ zone: "Europe/Berlin" }));
    await send();
    // From memory: nine hours east of Greenwich, and one in winter.
    expect((await until(guest))[1]).toMatch(/^Saturday 16 January at 00:30/);
    expect((await until(bram.email))[1]).toMatch(/^Friday 15 January at 16:30/);
  });
});

describe("the form of wishes", () => {
  const valid = (wishes: unknown) => wishesForm.validate({ wishes: JSON.stringify(wishes) }).error?.message ?? null;
  it.each([
    ["the first ones", FIRST_WISHES, null],
    ["quiet hours", { ...FIRST_WISHES, quiet: { from: 20, until: 7 } }, null],
    [
      "quiet all day",
      { ...FIRST_WISHES, quiet: { from: 7, until: 7 } },
      "The quiet hours begin and end at the same hour.",
    ],
    [
      "an hour that is none",
      { ...FIRST_WISHES, quiet: { from: 7, until: 24 } },
      '"quiet.until" must be less than or equal to 23',
    ],
    ["a kind that is none", { ...FIRST_WISHES, hidden: ["all"] }, expect.stringContaining("must be one of")],
    [
      "a time that is none",
      { ...FIRST_WISHES, mail: { ...FIRST_WISHES.mail, view: "hourly" } },
      expect.stringContaining("must be one of"),
    ],
    ["half of it", { mail: {} }, expect.stringContaining("is required")],
    ["nothing", null, expect.any(String)],
  ])("takes %s as it should", (_, wishes, message) => expect(valid(wishes)).toEqual(message));

  it("takes a zone that nobody knows as UTC, and what is no JSON not at all", () => {
    const zone = (name: string) =>
      (wishesForm.validate({ wishes: JSON.stringify(wish({ zone: name })) }).value as { wishes: NoticeWishes }).wishes
        .zone;
    expect([zone("Europe/Berlin"), zone("Nowhere/At All")]).toEqual(["Europe/Berlin", "UTC"]);
    expect(wishesForm.validate({ wishes: "{" }).error?.message).toBe("How you are told is no JSON.");
  });
});
