import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { codeOf, colleagueOf, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";
import type { Workspaces } from "./workspaces";

let runtime: Runtime;
let workspaces: Workspaces;
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  ({ workspaces } = runtime);
});
afterAll(() => runtime.close());

const again = async (member: SignedIn, chosen?: string) => {
  const token = await runtime.sessions.start(member.id);
  if (chosen) await runtime.sessions.choose(token, chosen);
  return (await runtime.sessions.member(token))!;
};
const ACCOUNT = { name: "Tove Reed", email: "tove@glasshouse.test", password: "ridge-vent-and-putty" };

describe("joining a workspace", () => {
  it("is by a link that an owner made, as what the link says, with a new account or one that is there", async () => {
    const orla = await newMember(runtime);
    await workspaces.makeLink(orla, { role: "member", days: 7 });
    const [link] = await workspaces.links(orla);
    expect(await workspaces.linkOf(link!.token)).toEqual({
      address: null,
      workspaceId: orla.workspaceId,
      workspaceName: "Fenn & Lark",
      role: "member",
      madeBy: "Orla Fenn",
    });
    await runtime.accounts.signUpToJoin(ACCOUNT, link!.token, "198.51.100.7");
    const ida = await newMember(runtime, "Ida Crake");
    expect(await workspaces.join(ida.id, link!.token)).toBe(orla.workspaceId);
    await workspaces.join(ida.id, link!.token);
    const people = await workspaces.people(orla);
    // Words from here on: pages are written on the server and in the browser.
    expect([typeof people[0]!.joinedAt, typeof link!.endsAt]).toEqual(["string", "string"]);
    expect(people.map(({ name, role }) => [name, role])).toEqual([
      ["Ida Crake", "member"],
      ["Orla Fenn", "owner"],
      ["Tove Reed", "member"],
    ]);
    // Both workspaces are Ida's now; what she sees is the one that she chose.
    expect((await again(ida)).workspaceId).toBe(ida.workspaceId);
    expect(await again(ida, orla.workspaceId)).toMatchObject({ workspaceId: orla.workspaceId, role: "member" });
    expect((await again(ida)).memberships.length).toBe(2);
  });

  it("ends with the link, and an account whose link was closed meanwhile is not made", async () => {
    const orla = await newMember(runtime);
    await workspaces.makeLink(orla, { role: "member", days: 1 });
    const [link] = await workspaces.links(orla);
    await workspaces.closeLink(orla, link!.id);
    expect(await workspaces.links(orla)).toEqual([]);
    await expect(workspaces.linkOf(link!.token)).rejects.toMatchObject({ status: 404 });
    const late = { ...ACCOUNT, email: "late@glasshouse.test" };
    await expect(runtime.accounts.signUpToJoin(late, link!.token, "a")).rejects.toMatchObject({ status: 404 });
    expect(await runtime.db.models.Person.count({ where: { email: late.email } })).toBe(0);

    await workspaces.makeLink(orla, { role: "member", days: 1 });
    await runtime.db.models.JoinLink.update({ endsAt: new Date() }, { where: { workspaceId: orla.workspaceId } });
    expect(await workspaces.links(orla)).toEqual([]);
    for (const token of ["", "x", "%00", "a".repeat(200)]) {
      await expect(workspaces.linkOf(token)).rejects.toMatchObject({ status: 404 });
    }
  });

  it("is not for members to offer, to close, or to see the links of", async () => {
    const orla = await newMember(runtime);
    const bram = await colleagueOf(runtime, orla);
    expect(await workspaces.links(bram)).toEqual([]);
    const [link] = await workspaces.links(orla);
    const asBram: Promise<unknown>[] = [
      workspaces.makeLink(bram, { role: "member", days: 1 }),
      workspaces.closeLink(bram, link!.id),
      workspaces.changeRole(bram, { person: bram.id, role: "owner" }),
      workspaces.remove(bram, { person: orla.id, heir: bram.id }),
    ];
    for (const work of asBram) await expect(work).rejects.toMatchObject({ status: 403 });
    const stranger = await newMember(runtime);
    await workspaces.closeLink(stranger, link!.id);
    expect((await workspaces.links(orla)).length).toBe(1);
  });
});

describe("somebody who was taken out", () => {
  it("comes back by no link that is for whoever has it, and by one that was mailed", async () => {
    const orla = await newMember(runtime);
    const bram = await colleagueOf(runtime, orla);
    const [open] = await workspaces.links(orla);
    await workspaces.remove(orla, { person: bram.id, heir: orla.id });
    const join = (token: string) => codeOf(workspaces.join(bram.id, token));
    expect(await join(open!.token)).toBe("taken-out");
    await workspaces.makeLink(orla, { role: "member", days: 1 });
    for (const { token } of await workspaces.links(orla)) expect(await join(token)).toBe("taken-out");
    await workspaces.invite(orla, { who: `Bram Lark <${bram.email}>`, role: "member", days: 1 });
    const mailed = (await workspaces.links(orla)).find(({ address }) => address !== null)!;
    expect(await join(mailed.token)).toBe("done");
    // From then on they belong to it as anybody does, and may leave and come back.
    await workspaces.changeRole(orla, { person: bram.id, role: "owner" });
    await workspaces.remove(await again(bram, orla.workspaceId), { person: bram.id, heir: orla.id });
    expect(await join(open!.token)).toBe("done");
  });

  it("nor is anybody made an owner by one", async () => {
    const orla = await newMember(runtime);
    expect(await codeOf(workspaces.makeLink(orla, { role: "owner", days: 1 }))).toBe("owner-link");
  });
});

describe("leaving a workspace", () => {
  it("passes the recordings on, with what waits for their sender; nothing is lost", async () => {
    const orla = await newMember(runtime);
    const bram = await colleagueOf(runtime, orla);
    const { recordingId, token } = await runtime.takes.start(bram, {
      source: "voice",
      title: "Sashes",
      audience: "anyone",
    });
    const recording = (await runtime.access.byToken(token))!;
    const guest = { member: null, guestKey: null, address: "a" };
    const { newKey } = await runtime.viewers.visit(recording, guest, { invite: null, named: true });
    await runtime.viewers.nameGuest(newKey, "Maud Thorne");
    const maud = (await runtime.viewers.find(recording, { ...guest, guestKey: newKey }))!;
    await runtime.comments.add(recordingId, maud, {
      id: crypto.randomUUID(),
      body: "Which putty?",
      at: 0,
      until: null,
    });
    const asBram = { member: bram, guestKey: null, address: "a" };
    await runtime.viewers.visit(recording, asBram, { invite: null, named: true });
    expect(await runtime.inbox.unread(bram.id)).toBe(1);

    await workspaces.remove(orla, { person: bram.id, heir: orla.id });
    expect(await runtime.inbox.unread(orla.id)).toBe(1);
    expect(await runtime.inbox.unread(bram.id)).toBe(0);
    const page = await runtime.library.page(orla, { q: "", sort: "newest", show: "kept", group: null, after: null });
    expect(page.rows.map((r) => [r.title, r.sender, r.mine])).toEqual([["Sashes", "Orla Fenn", true]]);
    // Access that was remembered is asked anew: the old sender is a stranger with the link.
    const now = (await runtime.access.byToken(token))!;
    expect(now.ownerId).toBe(orla.id);
    const asOrla = { member: orla, guestKey: null, address: "a" };
    await runtime.viewers.visit(now, asOrla, { invite: null, named: true });
    expect((await runtime.viewers.find(now, asOrla))!.number).toBeLessThan(0);
    expect((await runtime.viewers.find(now, asBram))!.number).toBe(1);
    // Nobody is without a workspace.
    expect(await again(bram)).toMatchObject({ workspaceName: "Bram Lark's workspace", role: "owner" });
  });

  it("needs an heir who belongs to it, and leaves an owner", async () => {
    const orla = await newMember(runtime);
    const bram = await colleagueOf(runtime, orla);
    const stranger = await newMember(runtime);
    const fails = async (work: Promise<unknown>, status: number) => expect(work).rejects.toMatchObject({ status });
    await fails(workspaces.remove(orla, { person: bram.id, heir: stranger.id }), 422);
    await fails(workspaces.remove(orla, { person: bram.id, heir: bram.id }), 422);
    await fails(workspaces.remove(orla, { person: orla.id, heir: bram.id }), 409);
    await fails(workspaces.changeRole(orla, { person: orla.id, role: "member" }), 409);
    await workspaces.changeRole(orla, { person: bram.id, role: "owner" });
    // Two owners who remove each other at the same time do not empty it.
    const asBram = await again(bram);
    const done = await Promise.allSettled([
      workspaces.changeRole(orla, { person: orla.id, role: "member" }),
      workspaces.changeRole(asBram, { person: bram.id, role: "member" }),
    ]);
    expect(done.map((d) => d.status).sort()).toEqual(["fulfilled", "rejected"]);
    expect((await workspaces.people(orla)).filter((p) => p.role === "owner").length).toBe(1);
  });
});

describe("invitations by mail", () => {
  it("lead one person into the workspace as what they say, and are closed with that", async () => {
    const orla = await newMember(runtime);
    const who = "Hester Quill <hester@quill.example>, odo@marsh.example";
    expect(await runtime.workspaces.invite(orla, { who, role: "owner", days: 7 })).toBe(2);
    const open = await runtime.workspaces.links(orla);
    expect(open.map((link) => link.address).sort()).toEqual(["hester@quill.example", "odo@marsh.example"]);
    const mail = await runtime.db.models.Mail.findOne({ where: { toAddress: "hester@quill.example", kind: "join" } });
    const token = /\/join\/([\w-]{22})/.exec(mail!.text!)![1]!;
    expect(mail).toMatchObject({ toName: "Hester Quill", sender: { name: orla.name, address: orla.email } });
    const two = [await newMember(runtime, "Hester Quill"), await newMember(runtime, "Eve Moss")];
    const came = await Promise.allSettled(two.map(({ id }) => runtime.workspaces.join(id, token)));
    expect(came.map((c) => c.status).sort()).toEqual(["fulfilled", "rejected"]);
    expect((await runtime.workspaces.people(orla)).map((p) => p.role)).toEqual(["owner", "owner"]);
    // One that is for whoever has it stays open.
    await runtime.workspaces.makeLink(orla, { role: "member", days: 1 });
    const link = (await runtime.workspaces.links(orla)).find((l) => l.address === null)!;
    for (const name of ["Tom Reed", "Wren Alder"])
      await runtime.workspaces.join((await newMember(runtime, name)).id, link.token);
    expect(await runtime.workspaces.people(orla)).toHaveLength(4);
  });

  it("go to addresses alone, all of them or none, and are made by owners", async () => {
    const orla = await newMember(runtime);
    const invite = (who: string, by = orla) => codeOf(runtime.workspaces.invite(by, { who, role: "member", days: 1 }));
    for (const who of ["Hester", "a@b.example, Odo", " ", "x@"]) expect(await invite(who), who).toBe("no-address");
    expect(await runtime.workspaces.links(orla)).toHaveLength(0);
    const bram = await colleagueOf(runtime, orla);
    expect(await invite("a@b.example", bram)).toBe("not-allowed");
    expect(await invite(Array.from({ length: 51 }, (_, n) => `p${n}@b.example`).join(","))).toBe("too-many");
  });
});

describe("what an owner sets of a workspace", () => {
  it("is its name, known to everybody at once, and set by nobody else", async () => {
    const orla = await newMember(runtime);
    const token = await runtime.sessions.start((await colleagueOf(runtime, orla)).id);
    const bram = (await runtime.sessions.member(token))!;
    expect(await codeOf(workspaces.rename(bram, "Lark alone"))).toBe("not-allowed");
    await workspaces.rename(orla, "Fenn, Lark & Vale");
    expect((await runtime.sessions.member(token))!.workspaceName).toBe("Fenn, Lark & Vale");
  });

  it("is who shares with people outside: nothing goes out by anybody else, what is out stays, nothing is lost", async () => {
    const orla = await newMember(runtime);
    const token = await runtime.sessions.start((await colleagueOf(runtime, orla)).id);
    const wren = await colleagueOf(runtime, orla, "Wren Alder");
    const known = async () => (await runtime.sessions.member(token))!;
    const open = { source: "voice", title: "Sashes", audience: "anyone" } as const;
    const take = async (who: SignedIn) => (await runtime.takes.start(who, open)).recordingId;
    const audience = async (id: string) => (await runtime.access.byId(id))!.audience;
    const before = await take(await known());
    const folder = await runtime.folders.make(await known(), { name: "Roof", parentId: null });
    expect(await codeOf(workspaces.setOutside(await known(), "owners"))).toBe("not-allowed");
    await workspaces.setOutside(orla, "owners");
    expect(await workspaces.outside(orla.workspaceId)).toBe("owners");
    const bram = await known();
    expect(bram.sharesOutside).toBe(false);

    // Recorded before they heard of it: kept, as a draft.
    const after = await take(bram);
    expect([await audience(before), await audience(after)]).toEqual(["anyone", "owner"]);
    expect(await codeOf(runtime.sharing.change(bram, after, { audience: "anyone" }))).toBe("only-owners");
    expect(await codeOf(runtime.sharing.change(bram, after, { audience: "workspace" }))).toBe("done");
    // What was open before is not closed by another change of it.
    expect(await codeOf(runtime.sharing.change(bram, before, { audience: "anyone", comments: false }))).toBe("done");
    const name = (who: string) => codeOf(runtime.invites.add(after, who, bram.sharesOutside));
    expect([await name("Hester Quill"), await name(`hester@quill.example, ${wren.email}`)]).toEqual([
      "only-owners",
      "only-owners",
    ]);
    expect(await runtime.db.models.Invite.count({ where: { recordingId: after } })).toBe(0);
    expect(await name(wren.email)).toBe("done");
    const letIn = (by: SignedIn, who: string) =>
      codeOf(runtime.folderPeople.add(by, folder, { who, may: "view" }, "198.51.100.7"));
    expect([await letIn(bram, "Hester Quill"), await letIn(bram, wren.email)]).toEqual(["only-owners", "done"]);
    expect(await letIn(await again(orla), "Hester Quill")).toBe("done");

    const theirs = await take(await again(orla));
    expect(await audience(theirs)).toBe("anyone");
    await workspaces.setOutside(orla, "everybody");
    expect(await codeOf(runtime.sharing.change(await known(), after, { audience: "anyone" }))).toBe("done");
  });
});
