import { afterAll, beforeAll, beforeEach, describe, expect, inject, it, vi } from "vitest";
import type { Audience, Pass, Subject } from "#core/access/access";
import { colleagueOf, feed, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";

let runtime: Runtime;
let orla: SignedIn;
let bram: SignedIn;
let wren: SignedIn;
beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"))));
beforeEach(async () => {
  orla = await newMember(runtime);
  bram = await colleagueOf(runtime, orla);
  wren = await colleagueOf(runtime, orla, "Wren Alder");
});
afterAll(() => runtime.close());

const make = (name: string, parentId: string | null = null, by = bram) => runtime.folders.make(by, { name, parentId });
const add = (id: string, who: string, may: "view" | "add" | "manage" = "view", by = bram) =>
  runtime.folderPeople.add(by, id, { who, may }, "198.51.100.7");
const take = async (by: SignedIn, audience: Audience = "owner") => {
  const first = audience === "folder" || audience === "named" ? "owner" : audience;
  const { recordingId } = await runtime.takes.start(by, { source: "voice", title: "Sashes", audience: first });
  if (first !== audience) await runtime.sharing.change(by, recordingId, { audience });
  return recordingId;
};
const put = (by: SignedIn, recordings: string[], to: string | null, open = false) =>
  runtime.folderContents.put(by, { recordings, to, open });
const codeOf = (work: Promise<unknown>) =>
  work.then(
    () => "done",
    (problem: { code?: string }) => problem.code ?? "thrown",
  );
const sees = (subject: Subject, id: string) => codeOf(runtime.folders.require(subject, "see", id));
const lies = async (subject: Subject, id: string) => {
  const folder = await runtime.folders.require(subject, "see", id);
  return (await runtime.folderContents.page(subject, folder, null)).rows.map((row) => row.id);
};
const keyOf = async (folderId: string, name: string) =>
  (await runtime.db.models.FolderPerson.findOne({ where: { folderId, name } }))!.key;
const bearer = (pass: Pass): Subject => ({ id: null, memberships: [], passes: [pass] });
const comes = async (folderId: string, name: string) =>
  bearer((await runtime.doors.personal(await keyOf(folderId, name))).pass);
const shelf = async (member: SignedIn) => (await runtime.folders.shelf(member)).folders.map(({ name }) => name);

describe("the tree of folders", () => {
  it("is seen by whoever made a folder and by the workspace's owners, until somebody is let in", async () => {
    const roof = await make("Roof");
    const vents = await make("Vents", roof);
    expect([
      await sees(bram, vents),
      await sees(orla, vents),
      await sees(wren, vents),
      await sees(null, vents),
    ]).toEqual(["done", "done", "not-found", "not-found"]);
    expect([await shelf(bram), await shelf(orla), await shelf(wren)]).toEqual([["Roof"], ["Roof"], []]);
    await add(vents, wren.email);
    expect(await shelf(wren)).toEqual(["Vents"]);
    expect((await runtime.folders.require(wren, "see", vents)).above).toEqual([]);
    expect((await runtime.folders.require(bram, "see", vents)).above.map(({ name }) => name)).toEqual(["Roof"]);
    await runtime.folders.openTo(bram, roof, "add");
    expect(await shelf(wren)).toEqual(["Roof"]);
    expect((await runtime.folders.find(wren, "vent")).map(({ name, above }) => [name, above])).toEqual([
      ["Vents", ["Roof"]],
    ]);
    await runtime.folders.openTo(bram, roof, null);
    expect(await shelf(wren)).toEqual(["Vents"]);
    // Who managed it by the one above goes on managing it.
    await runtime.folders.move(bram, vents, null);
    expect(await shelf(bram)).toEqual(["Roof", "Vents"]);
    await runtime.folders.rename(bram, vents, "Ridge vents");
    expect(await runtime.folders.find(wren, "")).toEqual([]);
  });

  it("has no ring and is not too deep, also where two move at once", async () => {
    const [a, b] = [await make("A"), await make("B")];
    expect(await codeOf(runtime.folders.move(bram, a, a))).toBe("in-itself");
    const both = await Promise.all([
      codeOf(runtime.folders.move(bram, a, b)),
      codeOf(runtime.folders.move(bram, b, a)),
    ]);
    expect(both.sort()).toEqual(["done", "in-itself"]);
    let inner = await make("1");
    const outer = inner;
    for (let n = 2; n <= 7; n++) inner = await make(String(n), inner);
    const deepest = await make("8", inner);
    expect(await codeOf(make("9", deepest))).toBe("too-deep");
    const above = await make("0");
    expect(await codeOf(runtime.folders.move(bram, outer, above))).toBe("too-deep");
    expect((await runtime.db.models.Folder.findByPk(deepest))!.path).toHaveLength(8);
  });

  it("keeps what lay in a folder that is taken away, for no more people than before", async () => {
    const [roof, vents] = await (async () => {
      const roof = await make("Roof");
      return [roof, await make("Vents", roof)];
    })();
    const inner = await make("Gears", vents);
    await add(vents, "Ida Crake");
    const recording = await take(bram, "folder");
    await put(bram, [recording], vents);
    await runtime.folders.remove(bram, vents);
    expect(await lies(bram, roof)).toEqual([recording]);
    expect((await runtime.db.models.Folder.findByPk(inner))!.path).toEqual([roof, inner]);
    await runtime.folders.remove(bram, roof);
    const row = await runtime.db.models.Recording.findByPk(recording);
    expect([row!.folderId, row!.audience]).toEqual([null, "folder"]);
    expect((await runtime.db.models.Folder.findByPk(inner))!.path).toEqual([inner]);
  });

  it("is changed by nobody who may not, and not from another workspace", async () => {
    const folder = await make("Roof");
    const other = await newMember(runtime, "Tom Reed");
    await add(folder, wren.email, "add");
    for (const by of [wren, other])
      for (const work of [
        () => runtime.folders.rename(by, folder, "X"),
        () => runtime.folders.openTo(by, folder, "add"),
        () => runtime.folders.move(by, folder, null),
        () => runtime.folders.remove(by, folder),
        () => add(folder, "a@b.example", "view", by),
        () => runtime.folderPeople.remove(by, folder, crypto.randomUUID()),
      ])
        expect(await codeOf(work())).toBe("not-found");
    const theirs = await make("Theirs", null, other);
    expect(await codeOf(runtime.folders.move(bram, folder, theirs))).toBe("not-found");
    expect(await codeOf(make("X", theirs))).toBe("not-found");
    for (const id of ["", "x", crypto.randomUUID(), `${folder}'`]) expect(await sees(bram, id)).toBe("not-found");
  });
});

describe("the people of a folder", () => {
  it("are colleagues by their account and others by a personal link, which can be closed alone", async () => {
    const folder = await make("Orangery");
    const address = `ida${Date.now()}@client.example`;
    const told = await add(folder, `${wren.email}, Ida Crake <${address}>, Tom Reed`);
    expect(told).toEqual({ added: 3, mailed: 2 });
    const [ida, tom] = [await comes(folder, "Ida Crake"), await comes(folder, "Tom Reed")];
    const recording = await take(bram, "folder");
    await put(bram, [recording], folder);
    for (const subject of [wren, ida, tom]) expect(await lies(subject, folder)).toEqual([recording]);
    const known = (await runtime.access.byId(recording))!;
    expect((await runtime.access.find(ida, known.token)).door).toBe("open");
    // They are known by the link, and need give no name; unless they do not want to be named.
    const came = async (named: boolean) => {
      const who = { member: null, guestKey: null, subject: ida, address: "a" };
      const { viewer } = await runtime.viewers.visit(known, who, { invite: null, named });
      return [viewer.name, viewer.needsName];
    };
    expect([await came(true), await came(false)]).toEqual([
      ["Ida Crake", false],
      [null, true],
    ]);
    const mail = await runtime.db.models.Mail.findOne({ where: { toAddress: address } });
    expect(mail!.text).toContain(`/for/${await keyOf(folder, "Ida Crake")}`);
    const newest = async (toAddress: string) =>
      (await runtime.db.models.Mail.findOne({ where: { toAddress, kind: "folder" }, order: [["madeAt", "DESC"]] }))!;
    expect((await newest(wren.email)).text).toContain(`/f/${folder}`);

    const row = (await runtime.db.models.FolderPerson.findOne({ where: { folderId: folder, name: "Ida Crake" } }))!;
    await runtime.folderPeople.newLink(bram, folder, row.id);
    expect([await sees(ida, folder), await sees(tom, folder)]).toEqual(["not-found", "done"]);
    expect((await runtime.access.find(ida, known.token)).door).toBe("nothing");
    expect(await codeOf(runtime.doors.personal(row.key))).toBe("not-found");
    expect(await sees(await comes(folder, "Ida Crake"), folder)).toBe("done");
    // The link of somebody who is known by an account is nobody's.
    expect(await codeOf(runtime.doors.personal(await keyOf(folder, "Wren Alder")))).toBe("not-found");
    await runtime.folderPeople.remove(bram, folder, row.id);
    expect((await runtime.access.find(tom, known.token)).door).toBe("open");
    expect((await newest(address)).subject).toBe("“Orangery” is not shared with you any more");
    // Somebody who is taken out twice is told once.
    await runtime.folderPeople.remove(bram, folder, row.id);
    expect(await runtime.db.models.Mail.count({ where: { toAddress: address } })).toBe(2);
  });

  it("do no more than look where they are no colleagues; wrong input changes nothing", async () => {
    const folder = await make("Orangery");
    expect(await codeOf(add(folder, "Ida Crake", "add"))).toBe("no-colleague");
    expect(await codeOf(add(folder, `${wren.email}, ida@`, "view"))).toBe("no-address");
    expect(await codeOf(add(folder, "  ,"))).toBe("nobody");
    expect(await runtime.db.models.FolderPerson.count({ where: { folderId: folder } })).toBe(1);
    await add(folder, `${wren.email}, Ida`);
    await add(folder, `${wren.email}, Ida`);
    expect(await runtime.db.models.FolderPerson.count({ where: { folderId: folder } })).toBe(3);
    const people = await runtime.folderPeople.list(await runtime.folders.require(bram, "manage", folder));
    const ida = people.find(({ name }) => name === "Ida")!;
    expect(await codeOf(runtime.folderPeople.change(bram, folder, { person: ida.id, may: "manage" }))).toBe(
      "no-colleague",
    );
    expect(people.map(({ name, isColleague, key }) => [name, isColleague, key === null])).toEqual([
      ["Bram Lark", true, true],
      ["Ida", false, false],
      ["Wren Alder", true, true],
    ]);
  });

  it("who leaves the workspace leaves its folders", async () => {
    const folder = await make("Orangery");
    await add(folder, wren.email, "manage");
    await runtime.workspaces.remove(orla, { person: wren.id, heir: bram.id });
    expect(await sees({ id: wren.id, memberships: [] }, folder)).toBe("not-found");
  });
});

describe("what lies in a folder", () => {
  it("is listed for whoever may watch it: drafts, what is for named people and what has a password is not", async () => {
    const folder = await make("Orangery", null, orla);
    await add(folder, "Ida Crake", "view", orla);
    const ida = await comes(folder, "Ida Crake");
    const ids: Partial<Record<Audience, string>> = {};
    for (const audience of ["owner", "named", "folder", "workspace", "anyone"] as const) {
      ids[audience] = await take(orla, audience);
      await put(orla, [ids[audience]], folder);
    }
    const locked = await take(orla, "anyone");
    await runtime.sharing.change(orla, locked, { password: "third bay" });
    const over = await take(orla, "folder");
    await runtime.sharing.change(orla, over, { endsAt: new Date(Date.now() - 1_000) });
    await put(orla, [locked, over], folder);
    expect((await lies(ida, folder)).sort()).toEqual([ids.folder!, ids.workspace!, ids.anyone!].sort());
    expect((await lies(orla, folder)).length).toBe(7);
    const folderFacts = await runtime.folders.require(ida, "see", folder);
    const [row] = (await runtime.folderContents.page(ida, folderFacts, null)).rows;
    expect([row!.mine, row!.back]).toEqual([false, null]);
  });

  it("is put nowhere where the folder is taken away meanwhile", async () => {
    const folder = await make("Roof");
    const recording = await take(bram);
    const rows = runtime.db.rows.bind(runtime.db);
    const spy = vi.spyOn(runtime.db, "rows").mockImplementation(async (sql, ...rest) => {
      if (sql.startsWith("\nupdate recordings r set folder_id"))
        await runtime.db.models.Folder.destroy({ where: { id: folder } });
      return rows(sql, ...rest);
    });
    expect(await codeOf(put(bram, [recording], folder))).toBe("not-found");
    spy.mockRestore();
    expect((await runtime.db.models.Recording.findByPk(recording))!.folderId).toBeNull();
  });

  it("is moved all or none, by its owner alone, to where they may add", async () => {
    const folder = await make("Roof");
    const [mine, theirs] = [await take(bram, "folder"), await take(wren, "folder")];
    expect(await codeOf(put(bram, [mine, theirs], folder))).toBe("not-found");
    expect(await lies(bram, folder)).toEqual([]);
    expect(await codeOf(put(wren, [theirs], folder))).toBe("not-found");
    await add(folder, wren.email, "view");
    expect(await codeOf(put(wren, [theirs], folder))).toBe("not-found");
    const draft = await take(bram);
    await put(bram, [draft, mine], folder, true);
    expect((await lies(wren, folder)).sort()).toEqual([draft, mine].sort());
    await put(bram, [draft], null, true);
    expect(await lies(wren, folder)).toEqual([mine]);
  });

  it("is taken out by who manages the folder, whoever has put it there, and by nobody else", async () => {
    const roof = await make("Roof");
    await add(roof, orla.email);
    await add(roof, wren.email, "add");
    const vents = await make("Vents", roof);
    const theirs = await take(wren, "folder");
    await put(wren, [theirs], vents);
    const takeOut = (who: SignedIn, from: string) => codeOf(runtime.folderContents.takeOut(who, from, theirs));
    expect(await lies(wren, vents)).toEqual([theirs]);
    expect([await takeOut(wren, vents), await takeOut(bram, roof)]).toEqual(["not-found", "not-found"]);
    const stranger = await newMember(runtime, "Somebody Else");
    expect(await takeOut(stranger, vents)).toBe("not-found");
    expect(await lies(wren, vents)).toEqual([theirs]);
    expect([await takeOut(bram, vents), await takeOut(bram, vents)]).toEqual(["done", "not-found"]);
    expect(await lies(wren, vents)).toEqual([]);
    // It is still theirs.
    expect((await runtime.access.byId(theirs))!.ownerId).toBe(wren.id);
  });

  it("tells before who would gain and who would lose sight, as it then is", async () => {
    const [roof, cellar] = [await make("Roof"), await make("Cellar")];
    await add(roof, `Ida Crake, ${wren.email}`);
    await add(cellar, "Tom Reed");
    const [draft, shared] = [await take(bram), await take(bram, "folder")];
    await put(bram, [shared], roof);
    const sight = (to: string | null, open = false) =>
      runtime.folderContents.sight(bram, { recordings: [draft, shared], to, open });
    const one = (name: string) => [{ name, count: 1 }];
    expect(await sight(cellar)).toEqual({
      gains: { people: one("Tom Reed"), colleagues: 0 },
      loses: { people: [...one("Ida Crake"), ...one("Wren Alder")], colleagues: 0 },
    });
    expect((await sight(cellar, true)).gains.people).toEqual([{ name: "Tom Reed", count: 2 }]);
    expect((await sight(null)).gains.people).toEqual([]);
    // A folder in another one keeps its people and gets those above.
    await runtime.folders.openTo(bram, cellar, "view");
    expect(await runtime.folderContents.sightOfFolder(bram, roof, cellar)).toEqual({
      gains: { people: one("Tom Reed"), colleagues: 1 },
      loses: { people: [], colleagues: 0 },
    });
    await runtime.folders.move(bram, roof, cellar);
    expect(await lies(await comes(cellar, "Tom Reed"), roof)).toEqual([shared]);
    expect((await runtime.folderContents.sightOfFolder(bram, roof, null)).loses).toEqual({
      people: one("Tom Reed"),
      colleagues: 1,
    });
  });

  it("is told page by page", async () => {
    const folder = await make("Roof");
    const { Recording } = runtime.db.models;
    const first = await take(bram, "folder");
    const row = (await Recording.findByPk(first))!.get({ plain: true });
    const copies = Array.from({ length: 60 }, (_, n) => ({
      ...{ ...row, id: crypto.randomUUID(), token: `t${crypto.randomUUID()}`, folderId: folder },
      createdAt: new Date(Date.now() - n * 1_000),
    }));
    await Recording.bulkCreate(copies);
    for (const { id } of copies)
      await runtime.db.models.Take.create({ id: crypto.randomUUID(), recordingId: id, position: 1, source: "voice" });
    const known = await runtime.folders.require(bram, "see", folder);
    const page = await runtime.folderContents.page(bram, known, null);
    const next = await runtime.folderContents.page(bram, known, page.next);
    expect([page.rows.length, next.rows.length, next.next]).toEqual([50, 10, null]);
    expect(new Set([...page.rows, ...next.rows].map(({ id }) => id)).size).toBe(60);
    expect(await codeOf(runtime.folderContents.page(bram, known, "made up"))).toBe("not-valid");
  });
});

describe("a recording that is put there before it begins", () => {
  const voice = { source: "voice", title: "Sashes", audience: "folder" } as const;
  const facts = async (id: string) => (await runtime.db.models.Recording.findByPk(id))!;

  it("is seen by the folder's people from the first second, and they are told once it is whole", async () => {
    const roof = await make("Roof");
    await add(roof, "Ida Crake");
    await add(roof, wren.email);
    const { recordingId, takeId } = await runtime.takes.start(bram, { ...voice, folder: roof });
    expect(await facts(recordingId)).toMatchObject({ folderId: roof, audience: "folder" });
    const ida = await comes(roof, "Ida Crake");
    expect(await lies(ida, roof)).toEqual([recordingId]);
    const told = async () => (await runtime.inbox.page(wren.id, { show: "all", after: null })).waiting;
    expect(await told()).toEqual([]);
    await feed(runtime, takeId, { microphone: "microphone" }, 4);
    expect(await told()).toMatchObject([{ kind: "folder", words: "Roof", title: "Sashes" }]);
  });

  it("lies nowhere, and is a draft, where they may put nothing there, or it is gone: nothing is lost", async () => {
    const roof = await make("Roof");
    await add(roof, wren.email, "view");
    const stranger = await newMember(runtime);
    const gone = await make("Gone");
    await runtime.folders.remove(bram, gone);
    for (const [by, folder] of [
      [wren, roof],
      [stranger, roof],
      [bram, gone],
    ] as const) {
      const { recordingId } = await runtime.takes.start(by, { ...voice, folder });
      expect(await facts(recordingId)).toMatchObject({ folderId: null, audience: "owner" });
      const open = await runtime.takes.start(by, { ...voice, folder, audience: "workspace" });
      expect(await facts(open.recordingId)).toMatchObject({ folderId: null, audience: "workspace" });
    }
    const without = await runtime.takes.start(bram, voice);
    expect(await facts(without.recordingId)).toMatchObject({ folderId: null, audience: "owner" });
  });
});

describe("a client without their link", () => {
  let asked = 0;
  /** Each from somewhere else: limits are another test's. */
  const from = () => `10.0.2.${asked++}`;
  const codesOf = async (toAddress: string) => {
    await runtime.doors.settled();
    const mails = await runtime.db.models.Mail.findAll({
      where: { toAddress, kind: "code" },
      order: [["madeAt", "DESC"]],
    });
    return mails.map(({ subject }) => subject.slice(0, 6));
  };
  const address = () => `ida${crypto.randomUUID().slice(0, 8)}@crake.example`;

  it("comes in by a code to the address by which they were let in: at the folder, at one in it, at what lies there", async () => {
    const [roof, ida] = [await make("Roof"), address()];
    const vents = await make("Vents", roof);
    await add(roof, `Ida Crake <${ida}>`);
    const recording = await take(bram);
    await put(bram, [recording], vents, true);
    const { token } = (await runtime.access.byId(recording))!;
    for (const behind of [{ folder: roof }, { folder: vents }, { token }]) {
      await runtime.doors.askCode(behind, ida, from());
      const [code] = await codesOf(ida);
      const pass = await runtime.doors.code(behind, { mailAddress: ida, code: code!, personId: null }, from());
      expect(pass).toEqual((await runtime.doors.personal(await keyOf(roof, "Ida Crake"))).pass);
      expect(await lies(bearer(pass), vents)).toEqual([recording]);
    }
    expect(await codesOf(ida)).toHaveLength(3);
  });

  it("gets none at another folder, at a draft, at nothing, after they were taken out, or for an account", async () => {
    const [roof, other, ida] = [await make("Roof"), await make("Other"), address()];
    await add(roof, `Ida Crake <${ida}>`);
    const draft = await take(bram);
    await put(bram, [draft], roof);
    const { token } = (await runtime.access.byId(draft))!;
    const nowhere = [
      { folder: other },
      { folder: crypto.randomUUID() },
      { folder: "roof" },
      { token },
      { token: "none" },
    ];
    for (const behind of nowhere) await runtime.doors.askCode(behind, ida, from());
    await add(roof, wren.email);
    await runtime.doors.askCode({ folder: roof }, wren.email, from());
    expect([await codesOf(ida), await codesOf(wren.email)]).toEqual([[], []]);

    await runtime.doors.askCode({ folder: roof }, ida, from());
    const [code] = await codesOf(ida);
    const give = (behind: { folder: string }, given = code!) =>
      codeOf(runtime.doors.code(behind, { mailAddress: ida, code: given, personId: null }, from()));
    expect(await give({ folder: other })).toBe("wrong-code");
    // A link that is closed takes its code with it.
    const { id } = (await runtime.db.models.FolderPerson.findOne({ where: { folderId: roof, email: ida } }))!;
    await runtime.folderPeople.newLink(bram, roof, id);
    expect(await give({ folder: roof })).toBe("wrong-code");
    await runtime.folderPeople.remove(bram, roof, id);
    await runtime.doors.askCode({ folder: roof }, ida, from());
    expect(await codesOf(ida)).toHaveLength(1);
  });
});
