import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import { codeOf, freshRuntime, newMember } from "../../testing/server";
import type { Runtime } from "../runtime";
import { accountForms } from "./account";
import type { SignedIn } from "./sessions";

let runtime: Runtime;
let suri: SignedIn;
const OLD = "ridge-vent-and-putty";
const NEXT = "sash-cord-and-beading";
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
});
afterAll(() => runtime.close());
beforeEach(async () => {
  suri = await newMember(runtime, "Suri Vale");
});

const signIn = (email: string, password: string) =>
  codeOf(runtime.accounts.signIn({ email, password }, { address: "10.0.0.1", computer: null }));
/** Letters to an address, the newest first. */
async function letters(address: string) {
  await runtime.account.settled();
  return runtime.db.models.Mail.findAll({ where: { toAddress: address }, order: [["madeAt", "DESC"]] });
}
const reset = (token: string, password = NEXT, kept: string[] = []) => runtime.account.reset(token, { password, kept });
const linkIn = (text: string | null, what: string) => new RegExp(`/${what}/([\\w-]{32})`).exec(text!)![1]!;
const forgotten = async (email: string) => {
  await runtime.account.forgot(email, "10.0.0.1");
  const reset = (await letters(email)).filter((mail) => mail.kind === "reset");
  return { count: reset.length, token: reset[0] ? linkIn(reset[0].text, "reset") : "" };
};

describe("a forgotten password", () => {
  it("is set anew by a link that was mailed, once; every sign-in ends, and the address is told", async () => {
    const before = await runtime.sessions.start(suri.id);
    const { token } = await forgotten(suri.email);
    expect((await runtime.account.ofReset(token)).name).toBe("Suri Vale");
    expect(await reset(token)).toEqual({ personId: suri.id, email: suri.email });
    expect(await signIn(suri.email, NEXT)).toBe("done");
    expect(await signIn(suri.email, OLD)).toBe("wrong-sign-in");
    expect(await runtime.sessions.member(before)).toBeNull();
    expect((await letters(suri.email))[0]).toMatchObject({ kind: "changed" });
    expect(await codeOf(reset(token, OLD))).toBe("not-open");
  });

  it("signs out everywhere, however many places those are", async () => {
    for (let n = 0; n < 110; n++) await runtime.sessions.start(suri.id);
    const { token } = await forgotten(suri.email);
    await reset(token);
    expect(await runtime.db.models.Session.count({ where: { personId: suri.id } })).toBe(0);
  });

  it("two presses at once set one password", async () => {
    const { token } = await forgotten(suri.email);
    const both = await Promise.all([NEXT, `${NEXT}-2`].map((next) => codeOf(reset(token, next))));
    expect(both.sort()).toEqual(["done", "not-open"]);
  });

  it("is mailed to nobody without an account, and asked for again at once it is the same letter", async () => {
    expect((await forgotten("nobody@glasshouse.test")).count).toBe(0);
    const first = await forgotten(suri.email);
    const again = await forgotten(suri.email);
    expect([first.count, again.count, again.token === first.token]).toEqual([1, 1, true]);
  });

  it("is asked for at most a few times from one address, and a link that was made up sets nothing", async () => {
    const asked = [];
    for (let n = 0; n < 7; n++) asked.push(await codeOf(runtime.account.forgot("x@glasshouse.test", "10.0.0.9")));
    expect(asked.slice(-2)).toEqual(["too-many", "too-many"]);
    for (const made of ["", "x", "a".repeat(32), "' or true --"]) expect(await codeOf(reset(made))).toBe("not-open");
  });

  it("is over after an hour", async () => {
    const { token } = await forgotten(suri.email);
    await runtime.db.models.Proof.update({ endsAt: new Date() }, { where: { personId: suri.id } });
    expect(await codeOf(runtime.account.ofReset(token))).toBe("not-open");
  });

  it("its link is not in the database", async () => {
    const { token } = await forgotten(suri.email);
    const { hash } = (await runtime.db.models.Proof.findOne({ where: { personId: suri.id } }))!;
    expect(hash.toString("utf8")).not.toContain(token);
    expect(hash.toString("base64url")).not.toContain(token);
  });
});

describe("an account", () => {
  it("gets another password for the one before, and everything else is signed out", async () => {
    const here = await runtime.sessions.start(suri.id, "Firefox");
    const there = await runtime.sessions.start(suri.id, "x".repeat(5_000));
    const from = { session: runtime.sessions.idOf(here), address: "10.0.0.1" };
    const change = (current: string) => runtime.account.changePassword(suri, { current, password: NEXT }, from);
    expect(await codeOf(change("guess"))).toBe("wrong-password");
    await change(OLD);
    expect(await runtime.sessions.member(here)).toMatchObject({ id: suri.id });
    expect(await runtime.sessions.member(there)).toBeNull();
    expect(await signIn(suri.email, NEXT)).toBe("done");
    expect((await runtime.sessions.of(suri.id)).map(({ agent }) => agent)).toEqual(["Firefox"]);
  });

  it("whose open session somebody else has found cannot be guessed at", async () => {
    const from = { session: "", address: "10.0.0.1" };
    const guesses = [];
    for (let n = 0; n < 11; n++)
      guesses.push(await codeOf(runtime.account.changePassword(suri, { current: `guess ${n}`, password: NEXT }, from)));
    expect(guesses.at(-1)).toBe("too-many");
    expect(await signIn(suri.email, OLD)).toBe("done");
  });

  it("gets another address once its owner has confirmed it; the one before is told", async () => {
    const email = `s${Date.now()}@vale.example`;
    expect(await codeOf(runtime.account.askAddress(suri, { current: "guess", email }, "10.0.0.1"))).toBe(
      "wrong-password",
    );
    await runtime.account.askAddress(suri, { current: OLD, email }, "10.0.0.1");
    expect(await signIn(email, OLD)).toBe("wrong-sign-in");
    const token = linkIn((await letters(email))[0]!.text, "confirm");
    expect(await runtime.account.confirmAddress(token, suri)).toBe(email);
    expect(await signIn(email, OLD)).toBe("done");
    expect(await signIn(suri.email, OLD)).toBe("wrong-sign-in");
    expect((await letters(suri.email))[0]!.text).toContain(email);
    expect(await codeOf(runtime.account.confirmAddress(token, suri))).toBe("not-open");
  });

  it("gets another address by nobody who has the letter alone, and by no letter from before a reset", async () => {
    const email = `u${Date.now()}@vale.example`;
    await runtime.account.askAddress(suri, { current: OLD, email }, "10.0.0.1");
    const token = linkIn((await letters(email))[0]!.text, "confirm");
    const tom = await newMember(runtime, "Tom Reed");
    for (const by of [null, tom]) expect(await codeOf(runtime.account.confirmAddress(token, by))).toBe("not-signed-in");
    // Whoever had the account has asked for it; its owner gets it back.
    await reset((await forgotten(suri.email)).token);
    expect(await codeOf(runtime.account.confirmAddress(token, suri))).toBe("not-open");
    expect(await signIn(suri.email, NEXT)).toBe("done");
  });

  it("no letter is left over when its password or its address is another one", async () => {
    const { token } = await forgotten(suri.email);
    const from = { session: "", address: "10.0.0.1" };
    await runtime.account.changePassword(suri, { current: OLD, password: NEXT }, from);
    expect(await codeOf(reset(token))).toBe("not-open");
    const [email, next] = [suri.email, `v${Date.now()}@vale.example`];
    await runtime.db.models.Proof.destroy({ where: { personId: suri.id } });
    const second = (await forgotten(email)).token;
    await runtime.account.askAddress(suri, { current: NEXT, email: next }, "10.0.0.1");
    await runtime.account.confirmAddress(linkIn((await letters(next))[0]!.text, "confirm"), suri);
    expect(await codeOf(reset(second))).toBe("not-open");
  });

  it("that was taken over is had back by the letter to the address before, however often it was moved", async () => {
    const moved = [`w${Date.now()}@evil.example`, `x${Date.now()}@evil.example`];
    const undo: string[] = [];
    for (const email of moved) {
      await runtime.account.askAddress(suri, { current: OLD, email }, "10.0.0.1");
      const before = (await runtime.db.models.Person.findByPk(suri.id))!.email;
      await runtime.account.confirmAddress(linkIn((await letters(email))[0]!.text, "confirm"), suri);
      undo.push(linkIn((await letters(before))[0]!.text, "undo"));
    }
    const theirs = await runtime.sessions.start(suri.id);
    expect(await runtime.account.ofUndo(undo[0]!)).toMatchObject({ address: suri.email, email: moved[1] });
    const token = await runtime.account.undoAddress(undo[0]!);
    expect(await runtime.sessions.member(theirs)).toBeNull();
    expect(await reset(token)).toEqual({ personId: suri.id, email: suri.email });
    expect(await signIn(suri.email, NEXT)).toBe("done");
    // The other letter is one that whoever took it has.
    for (const old of undo) expect(await codeOf(runtime.account.undoAddress(old))).toBe("not-open");
  });

  it("is had back whatever whoever took it does with the address that is theirs", async () => {
    const move = async (email: string) => {
      await runtime.account.askAddress(suri, { current: OLD, email }, "10.0.0.1");
      const before = (await runtime.db.models.Person.findByPk(suri.id))!.email;
      await runtime.account.confirmAddress(linkIn((await letters(email))[0]!.text, "confirm"), suri);
      return linkIn((await letters(before))[0]!.text, "undo");
    };
    const stamp = Date.now();
    const mine = await move(`y${stamp}@evil.example`);
    const theirs = await move(`z${stamp}@evil.example`);
    // By their own letter, and by a new password for the address that they have.
    const again = await runtime.account.undoAddress(theirs);
    await runtime.account.reset(again, { password: OLD, kept: [] });
    const own = await runtime.account.undoAddress(mine);
    expect(await reset(own)).toEqual({ personId: suri.id, email: suri.email });
    expect(await signIn(suri.email, NEXT)).toBe("done");
  });

  it("is taken away by no letter that was planted while somebody else had it", async () => {
    const evil = `p${Date.now()}@evil.example`;
    const move = async (email: string) => {
      await runtime.account.askAddress(suri, { current: OLD, email }, "10.0.0.1");
      await runtime.account.confirmAddress(linkIn((await letters(email))[0]!.text, "confirm"), suri);
    };
    await move(evil);
    await move(suri.email);
    const told = (await letters(evil)).find(({ kind }) => kind === "changed")!;
    expect([told.text!.includes(suri.email), told.text!.includes("/undo/")]).toEqual([true, false]);
    expect(await runtime.db.models.Proof.count({ where: { personId: suri.id } })).toBe(0);
    expect(await signIn(suri.email, OLD)).toBe("done");
  });

  it("lets nothing else in after a reset but what is kept", async () => {
    const make = (name: string) =>
      runtime.programs.make(suri, { name, scopes: ["read"], days: 30, current: OLD }, "10.0.0.1");
    const secrets = [await make("Mine"), await make("Somebody's")];
    await runtime.hooks.make(suri, { url: "https://evil.example/told", kinds: ["comment"] });
    const all = await runtime.account.accessesOf(suri.id);
    expect(all.map(({ kind, name }) => `${kind} ${name}`).sort()).toEqual([
      "hook https://evil.example/told",
      "program Mine",
      "program Somebody's",
    ]);
    await reset((await forgotten(suri.email)).token, NEXT, [all.find(({ name }) => name === "Mine")!.id]);
    expect((await runtime.account.accessesOf(suri.id)).map(({ name }) => name)).toEqual(["Mine"]);
    expect(await Promise.all(secrets.map(async (s) => (await runtime.programs.shown(s)) !== null))).toEqual([
      true,
      false,
    ]);
  });

  it("gets a program by its password alone, and is told", async () => {
    const make = (current: string) =>
      runtime.programs.make(suri, { name: "Timesheet", scopes: ["read"], days: 30, current }, "10.0.0.1");
    expect(await codeOf(make("guess"))).toBe("wrong-password");
    await make(OLD);
    expect((await letters(suri.email))[0]!.text).toContain("Timesheet");
  });

  it("does not get an address that somebody has taken meanwhile", async () => {
    const email = `t${Date.now()}@vale.example`;
    await runtime.account.askAddress(suri, { current: OLD, email }, "10.0.0.1");
    const token = linkIn((await letters(email))[0]!.text, "confirm");
    await runtime.db.models.Person.update({ email }, { where: { id: (await newMember(runtime, "Tom Reed")).id } });
    expect(await codeOf(runtime.account.confirmAddress(token, suri))).toBe("email-taken");
    expect(await signIn(suri.email, OLD)).toBe("done");
  });

  it("ends its own sign-ins, and nobody else's", async () => {
    const tom = await newMember(runtime, "Tom Reed");
    const [mine, theirs] = [await runtime.sessions.start(suri.id), await runtime.sessions.start(tom.id)];
    await runtime.sessions.endOf(suri.id, { only: runtime.sessions.idOf(theirs) });
    expect(await runtime.sessions.member(theirs)).toMatchObject({ id: tom.id });
    await runtime.sessions.endOf(suri.id, { only: runtime.sessions.idOf(mine) });
    expect(await runtime.sessions.member(mine)).toBeNull();
  });

  it("has another name at once, wherever it is signed in", async () => {
    const session = await runtime.sessions.start(suri.id);
    await runtime.sessions.member(session);
    await runtime.account.rename(suri, "Suri Thorne");
    expect(await runtime.sessions.member(session)).toMatchObject({ name: "Suri Thorne" });
  });

  it("tells when it was last used, to some minutes", async () => {
    const session = await runtime.sessions.start(suri.id);
    const id = Buffer.from(runtime.sessions.idOf(session), "hex");
    const old = new Date(Date.now() - 3_600_000);
    await runtime.db.models.Session.update({ lastAt: old }, { where: { id } });
    await runtime.sessions.member(session);
    const [used] = await runtime.sessions.of(suri.id);
    expect(Date.now() - used!.lastAt.getTime()).toBeLessThan(60_000);
  });

  it.each([
    ["name", { name: " " }, "name"],
    ["password", { current: OLD, password: "short" }, "password"],
    ["password", { password: NEXT }, "current"],
    ["address", { current: OLD, email: "vale" }, "email"],
    ["end-session", { session: "x" }, "session"],
  ] as const)("a form of %s like %j is refused, naming %s", (form, fields, named) =>
    expect(accountForms[form].validate(fields).error?.details[0]?.path).toEqual([named]),
  );
});
