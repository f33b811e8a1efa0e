import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import type { Pass, Subject } from "#core/access/access";
import { wrongField } from "../../testing/forms";
import { codeOf, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";
import { enterForm, shareForm } from "./forms";

let runtime: Runtime;
let suri: SignedIn;
let id: string;
let token: string;
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  suri = await newMember(runtime, "Suri Vale");
});
afterAll(() => runtime.close());
beforeEach(async () => {
  const take = await runtime.takes.start(suri, { source: "voice", title: "Sashes", audience: "anyone" });
  ({ recordingId: id, token } = take);
});

const guest = (...passes: Pass[]): Subject => ({ id: null, memberships: [], passes });
const door = async (subject: Subject, at = token) => (await runtime.access.find(subject, at)).door;
const change = (what: object) => {
  const { value, error } = shareForm.validate(what);
  if (error) throw error;
  return runtime.sharing.change(suri, id, value as object);
};
const recording = async () => (await runtime.access.byToken(token))!;
const invite = async (name: string) => (await runtime.db.models.Invite.findOne({ where: { recordingId: id, name } }))!;
/** Letters that were written about this recording, once everything that was asked for is on its way. */
async function letters(kind: string) {
  await runtime.doors.settled();
  return runtime.db.models.Mail.findAll({ where: { kind, recordingId: id }, order: ["madeAt"] });
}
const codeIn = (text: string | null) => /\b(\d{3}) (\d{3})\b/.exec(text!)!.slice(1).join("");

describe("a password", () => {
  it("is asked for, opens to whoever knows it, and not any more once it is another one", async () => {
    await change({ password: "third bay" });
    expect(await door(guest())).toBe("password");
    const pass = await runtime.doors.password(await recording(), "third bay", "10.0.0.1");
    expect(await door(guest(pass))).toBe("open");
    await change({ password: "fourth bay" });
    expect(await door(guest(pass))).toBe("password");
    expect(await codeOf(runtime.doors.password(await recording(), "third bay", "10.0.0.1"))).toBe("wrong-password");
    await change({ password: "" });
    expect(await door(guest())).toBe("open");
    expect(await runtime.sharing.of(id)).toMatchObject({ hasPassword: false });
  });

  it("is kept as Argon2id alone", async () => {
    await change({ password: "third bay" });
    const { passwordHash } = (await runtime.db.models.Recording.findByPk(id))!;
    expect(passwordHash).toMatch(/^\$argon2id\$/);
  });

  it("given by a class of 300 at once behind one address opens to all, each after a wrong try; guessing ends", async () => {
    await change({ password: "third bay" });
    const at = await recording();
    await runtime.doors.password(at, "third bay", "10.0.0.2");
    const right = Array.from({ length: 300 }, () => runtime.doors.password(at, "third bay", "10.0.0.2"));
    expect((await Promise.allSettled(right)).filter((r) => r.status === "rejected")).toHaveLength(0);
    // One after the other: what waits to be checked at once is bounded as well.
    for (let n = 0; n < 300; n++)
      expect(await codeOf(runtime.doors.password(at, `wrong ${n}`, "10.0.0.2"))).toBe("wrong-password");
    const more = [];
    for (let n = 0; n < 110; n++) more.push(await codeOf(runtime.doors.password(at, `guess ${n}`, "10.0.0.2")));
    expect(more.at(-1)).toBe("too-many");
    // Somebody elsewhere is not kept out by that.
    await expect(runtime.doors.password(at, "third bay", "10.0.0.3")).resolves.toBeTruthy();
  }, 120_000);
});

describe("times", () => {
  it("open and close the link, and an end before the start is refused", async () => {
    const soon = new Date(Date.now() + 3_600_000).toISOString();
    const past = new Date(Date.now() - 3_600_000).toISOString();
    await change({ opensAt: soon });
    expect(await door(guest())).toBe("not-yet");
    expect(await door(suri)).toBe("open");
    expect(await codeOf(change({ endsAt: past }))).toBe("ends-before");
    await change({ opensAt: "", endsAt: past });
    expect(await door(guest())).toBe("over");
    await change({ endsAt: "" });
    expect(await door(guest())).toBe("open");
    expect(await runtime.sharing.of(id)).toMatchObject({ opensAt: null, endsAt: null });
  });

  it.each([
    ["endsAt", { endsAt: "tomorrow" }],
    ["endsAt", { endsAt: "9999-01-01" }],
    ["password", { password: "short" }],
    ["audience", { audience: "all" }],
    ["comments", { comments: 3 }],
  ])("%s is refused in %j", (field, what) => expect(wrongField(shareForm, what)).toBe(field));

  it("what is not named stays as it was", () => {
    expect(shareForm.validate({ comments: "false", stranger: 1 }, { stripUnknown: true }).value).toEqual({
      comments: false,
    });
    expect(shareForm.validate({ endsAt: "" }).value).toEqual({ endsAt: null });
  });
});

describe("links", () => {
  it("a new one ends the old one and the short one, which says so; personal links go on", async () => {
    await runtime.invites.add(id, "Ida Crake");
    const { key } = await invite("Ida Crake");
    const short = await runtime.sharing.shorten(suri, id);
    expect(short).toMatch(/^[23456789a-hjkmnp-z]{8}$/);
    expect(await runtime.sharing.shorten(suri, id)).toBe(short);
    expect(await runtime.sharing.tokenOfShort(short.toUpperCase())).toBe(token);
    const next = await runtime.sharing.newLink(suri, id);
    expect(await door(guest())).toBe("replaced");
    expect(await door(suri)).toBe("replaced");
    expect(await door(guest(), next)).toBe("open");
    expect(await runtime.sharing.tokenOfShort(short)).toBeNull();
    expect((await runtime.doors.personal(key)).path).toBe(`/w/${next}`);
    // A draft says nothing of its old links.
    await change({ audience: "owner" });
    expect(await door(guest())).toBe("nothing");
  });

  it("a new one while it is still being recorded loses nothing of the take", async () => {
    const { takeId } = await runtime.takes.start(suri, { source: "voice", title: "Long", audience: "anyone" });
    const { id: long } = (await runtime.access.byTake(takeId))!;
    const next = await runtime.sharing.newLink(suri, long);
    expect(await runtime.access.byTake(takeId)).toMatchObject({ id: long, token: next });
  });

  it("are made anew by their owner alone", async () => {
    const ida = await newMember(runtime, "Ida Crake");
    for (const deed of [
      () => runtime.sharing.newLink(ida, id),
      () => runtime.sharing.shorten(ida, id),
      () => runtime.sharing.change(ida, id, { audience: "owner" }),
      () => runtime.sharing.newLink(suri, "not-an-id"),
    ])
      expect(await codeOf(deed())).toBe("not-found");
    expect(await door(guest())).toBe("open");
  });

  it("short ones that were made up lead nowhere", async () => {
    for (const made of ["aaaaaaaa", "", "0o1il000", "' or 1=1", "a".repeat(500)])
      expect(await runtime.sharing.tokenOfShort(made)).toBeNull();
  });

  it("a personal one that was passed on is closed without harm to others", async () => {
    await change({ audience: "named" });
    await runtime.invites.add(id, "Ida Crake, Tom Reed");
    const [ida, tom] = [await invite("Ida Crake"), await invite("Tom Reed")];
    const idas = await runtime.doors.personal(ida.key);
    const toms = await runtime.doors.personal(tom.key);
    expect([await door(guest(idas.pass)), await door(guest(toms.pass)), await door(guest())]).toEqual([
      "open",
      "open",
      "nothing",
    ]);
    await runtime.sender.newPersonalLink(id, ida.id);
    expect([await door(guest(idas.pass)), await door(guest(toms.pass))]).toEqual(["nothing", "open"]);
    expect(await codeOf(runtime.doors.personal(ida.key))).toBe("not-found");
    expect(await door(guest((await runtime.doors.personal((await invite("Ida Crake")).key)).pass))).toBe("open");
    await runtime.invites.remove(id, tom.id);
    expect(await door(guest(toms.pass))).toBe("nothing");
  });
});

describe("a code by mail", () => {
  beforeEach(async () => {
    await change({ audience: "named" });
    await runtime.invites.add(id, "Ida Crake <ida@crake.example>");
  });
  const give = (code: string, personId: string | null = null, mailAddress = "ida@crake.example") =>
    runtime.doors.code({ token }, { mailAddress, code, personId }, "10.0.1.1");

  it("opens once, to whoever reads that mail", async () => {
    await runtime.doors.askCode({ token }, "ida@crake.example", "10.0.1.1");
    const [letter] = await letters("code");
    const code = codeIn(letter!.text);
    expect(await codeOf(give(String((Number(code) + 1) % 1e6).padStart(6, "0")))).toBe("wrong-code");
    expect(await door(guest(await give(code)))).toBe("open");
    expect(await codeOf(give(code))).toBe("wrong-code");
  });

  it("names the account of whoever is signed in, so that they need none the next time", async () => {
    const ida = await newMember(runtime, "Ida Crake");
    expect(await door(ida)).toBe("nothing");
    await runtime.doors.askCode({ token }, "ida@crake.example", "10.0.1.2");
    await give(codeIn((await letters("code"))[0]!.text), ida.id);
    expect(await door(ida)).toBe("open");
  });

  it("is tried five times at the most, and goes to nobody who is not named", async () => {
    await runtime.doors.askCode({ token }, "ida@crake.example", "10.0.1.3");
    await runtime.doors.askCode({ token }, "eve@crake.example", "10.0.1.3");
    await runtime.doors.askCode({ token: "A".repeat(22) }, "ida@crake.example", "10.0.1.3");
    const all = await letters("code");
    expect(all.map((mail) => mail.toAddress)).toEqual(["ida@crake.example"]);
    const code = codeIn(all[0]!.text);
    const wrong = code === "000000" ? "000001" : "000000";
    for (let n = 0; n < 5; n++) expect(await codeOf(give(wrong))).toBe("wrong-code");
    expect(await codeOf(give(code))).toBe("wrong-code");
    expect(await codeOf(give(code, null, "eve@crake.example"))).toBe("wrong-code");
  });

  it("asked for again at once is the same one; after very many for one address nothing is mailed", async () => {
    for (let n = 0; n < 3; n++) await runtime.doors.askCode({ token }, "ida@crake.example", "10.0.1.4");
    expect(await letters("code")).toHaveLength(1);
    const more = await Promise.all(
      Array.from({ length: 5 }, () => codeOf(runtime.doors.askCode({ token }, "wren@crake.example", "10.0.1.4"))),
    );
    expect(new Set(more)).toEqual(new Set(["done"]));
    expect(await codeOf(runtime.doors.askCode({ token }, "wren@crake.example", "10.0.1.4"))).toBe("too-many");
  });

  it.each([
    ["code", { do: "code", address: "ida@crake.example", code: "12345" }],
    ["address", { do: "code", address: "ida", code: "123456" }],
    ["do", { do: "open" }],
    ["password", { do: "password" }],
    ["password", { do: "password", password: "x".repeat(201) }],
  ])("%s is refused in a form like %j", (field, form) => expect(wrongField(enterForm, form)).toBe(field));

  it("may be typed as it is read", () =>
    expect(enterForm.validate({ do: "code", address: " Ida@Crake.example", code: "123 456" }).value).toMatchObject({
      address: "ida@crake.example",
      code: "123456",
    }));
});
