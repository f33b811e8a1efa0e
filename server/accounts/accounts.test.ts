import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { codeOf, freshRuntime } from "../../testing/server";
import type { Runtime } from "../runtime";
import { signUpForm } from "./accounts";
import type { SignInLimits } from "./limits";

let runtime: Runtime;
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
});
afterAll(() => runtime.close());

const person = {
  name: "Orla Fenn",
  workspace: "Fenn & Lark",
  email: "orla@glasshouse.test",
  password: "ridge-vent-and-putty",
};

async function memberOf(of: Runtime, email: string) {
  const { id } = (await of.db.models.Person.findOne({ where: { email } }))!;
  return (await of.sessions.member(await of.sessions.start(id)))!;
}
const from = (address: string, computer: string | null = null) => ({ address, computer });

describe("accounts", () => {
  it("sign up, sign in, and out on every process", async () => {
    const id = await runtime.accounts.signUp(person, "10.0.0.1");
    expect(await runtime.accounts.signIn(person, from("10.0.0.1"))).toBe(id);
    const token = await runtime.sessions.start(id);
    expect(await runtime.sessions.member(token)).toMatchObject({ id, name: "Orla Fenn", workspaceName: "Fenn & Lark" });
    await runtime.sessions.end(token);
    expect(await runtime.sessions.member(token)).toBeNull();
    expect(await runtime.sessions.member("made-up")).toBeNull();
  });

  it("keep no password and no cookie that could be used", async () => {
    const [member] = await runtime.db.rows<{ hash: string }>("select password_hash as hash from people limit 1");
    // OWASP (from memory): Argon2id with 19 MiB, 2 passes, 1 lane, or stronger.
    expect(member!.hash).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    const token = await runtime.sessions.start((await runtime.db.models.Person.findOne())!.id);
    const rows = await runtime.db.rows<{ id: Buffer }>("select id from sessions");
    expect(rows.some((r) => r.id.toString("base64url") === token || r.id.toString("utf8") === token)).toBe(false);
  });

  it("refuse an address that is taken, also in a race", async () => {
    await expect(runtime.accounts.signUp(person, "10.0.0.1")).rejects.toMatchObject({
      status: 409,
      code: "email-taken",
    });
    const race = { ...person, email: "race@glasshouse.test" };
    const results = await Promise.allSettled([1, 2, 3].map(() => runtime.accounts.signUp(race, "10.0.0.1")));
    expect(results.filter((r) => r.status === "fulfilled")).toHaveLength(1);
    const [{ n } = { n: 0 }] = await runtime.db.rows<{ n: number }>("select count(*)::int as n from workspaces");
    expect(n).toBe(2);
  });

  it("say the same of a wrong password and of nobody, and slow down guessing", async () => {
    const guess = (email: string, address: string) =>
      runtime.accounts.signIn({ email, password: "wrong" }, from(address)).catch((e: Error) => e.message);
    expect(await guess(person.email, "10.0.0.2")).toBe(await guess("nobody@glasshouse.test", "10.0.0.2"));
    for (let n = 0; n < 8; n++) await guess(person.email, "10.0.0.3");
    await expect(runtime.accounts.signIn(person, from("10.0.0.3"))).rejects.toMatchObject({
      status: 429,
      detail: { retryAfter: expect.any(Number) },
    });
    // Another address is not locked out by that.
    await expect(runtime.accounts.signIn(person, from("10.0.0.4"))).resolves.toBeTruthy();
  });

  it("never lock an owner out where they signed in before, however many strangers guess", async () => {
    const computers = runtime.computers;
    const cookie = computers.remember(null, person.email);
    const computer = computers.knownFor(cookie, person.email);
    expect(computer).not.toBeNull();
    // Sixty tries from everywhere fill the account's bucket.
    for (let n = 0; n < 70; n++) {
      await runtime.accounts
        .signIn({ email: person.email, password: "wrong" }, from(`10.1.0.${n}`))
        .catch(() => undefined);
    }
    await expect(runtime.accounts.signIn(person, from("10.0.0.9"))).rejects.toMatchObject({ status: 429 });
    await expect(runtime.accounts.signIn(person, from("10.1.0.1", computer))).resolves.toBeTruthy();
  }, 60_000);

  it("let a class of 300 behind one address sign up and in, each with a wrong try", async () => {
    const limits = (runtime.accounts as unknown as { limits: SignInLimits }).limits;
    for (let n = 0; n < 300; n++) {
      await limits.signUp("10.2.0.1");
      const attempt = { address: "10.2.0.1", email: `pupil${n}@glasshouse.test`, computer: null };
      await limits.attempt(attempt);
      await limits.attempt(attempt);
      await limits.succeeded(attempt);
    }
  });

  it("refuse a flood of new accounts from one address", async () => {
    const limits = (runtime.accounts as unknown as { limits: SignInLimits }).limits;
    const signUps = await Promise.allSettled(Array.from({ length: 420 }, () => limits.signUp("10.3.0.1")));
    expect(signUps.filter((r) => r.status === "rejected")).toHaveLength(20);
  });

  it("keep nobody waiting for all the wrong tries that come from somewhere else", async () => {
    let wrong = 0;
    const flood = Array.from({ length: 90 }, (_, n) =>
      runtime.accounts
        .signIn({ email: `nobody${n}@glasshouse.test`, password: "wrong" }, from("10.4.0.1"))
        .catch(() => wrong++),
    );
    const known = runtime.computers.knownFor(runtime.computers.remember(null, person.email), person.email);
    await runtime.accounts.signIn(person, from("10.4.0.2", known));
    expect(wrong).toBeLessThan(45);
    await Promise.all(flood);
    expect(wrong).toBe(90);
  });

  it("slow a whole address down when very many there were wrong, and do not shut it out", async () => {
    const limits = (runtime.accounts as unknown as { limits: SignInLimits }).limits;
    const attempt = (n: number) =>
      codeOf(limits.attempt({ address: "10.5.0.1", email: `guess${n}@glasshouse.test`, computer: null }));
    const outcomes: unknown[] = [];
    for (let n = 0; n < 840; n++) outcomes.push(await attempt(n));
    expect(outcomes.filter((o) => o === "done")).toHaveLength(830);
    await expect(
      limits.attempt({ address: "10.5.0.1", email: "ida@glasshouse.test", computer: null }),
    ).rejects.toMatchObject({ status: 429, detail: { retryAfter: expect.toSatisfy((s: number) => s <= 60) } });
  });

  it("are made by invitation alone where that is set, but for the first", async () => {
    const closed = await freshRuntime(inject("databaseUrl"), { SIGN_UP: "invited" });
    const sign = (n: number) =>
      codeOf(closed.accounts.signUp({ ...person, email: `first${n}@glasshouse.test` }, "10.6.0.1"));
    expect([await closed.accounts.isOpen(), await sign(1), await sign(2)]).toEqual([true, "done", "invited-only"]);
    expect(await closed.accounts.isOpen()).toBe(false);
    const member = await memberOf(closed, "first1@glasshouse.test");
    await closed.workspaces.makeLink(member, { role: "member", days: 1 });
    const [link] = await closed.workspaces.links(member);
    const invited = { name: "Tom Reed", email: "tom@glasshouse.test", password: person.password };
    expect(await codeOf(closed.accounts.signUpToJoin(invited, link!.token, "10.6.0.1"))).toBe("done");
    await closed.close();
  });

  it("remember up to five accounts on one computer, and no forged cookie", () => {
    const { computers } = runtime;
    const emails = Array.from({ length: 6 }, (_, n) => `p${n}@glasshouse.test`);
    const cookie = emails.reduce<string | null>((kept, email) => computers.remember(kept, email), null)!;
    expect(emails.map((email) => computers.knownFor(cookie, email) !== null)).toEqual([
      false,
      true,
      true,
      true,
      true,
      true,
    ]);
    const [computer] = cookie.split(".");
    for (const forged of [computer!, `${computer}.${"a".repeat(22)}`, `x${cookie}`, "..", cookie.replace(/.$/, "-")]) {
      expect(computers.knownFor(forged, "p1@glasshouse.test")).toBeNull();
    }
  });

  it.each([
    [{ ...person, name: "\u200b\u3164" }, "name"],
    [{ ...person, email: "not an address" }, "email"],
    [{ ...person, password: "short" }, "password"],
    [{ ...person, name: " " }, "name"],
    [{ ...person, workspace: "x".repeat(81) }, "workspace"],
  ])("refuse a form, naming the field (case %#)", (form, field) => {
    expect(signUpForm.validate(form).error?.details[0]?.path).toEqual([field]);
  });
});
