import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { freshRuntime } from "../../testing/server";
import type { Runtime } from "../runtime";
import { signUpForm } from "./accounts";

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

describe("accounts", () => {
  it("sign up, sign in, and out on every process", async () => {
    const id = await runtime.accounts.signUp(person);
    expect(await runtime.accounts.signIn(person, "10.0.0.1")).toBe(id);
    const token = await runtime.sessions.start(id);
    expect(await runtime.sessions.member(token)).toMatchObject({ id, name: "Orla Fenn", workspaceName: "Fenn & Lark" });
    await runtime.sessions.end(token);
    expect(await runtime.sessions.member(token)).toBeNull();
    expect(await runtime.sessions.member("made-up")).toBeNull();
  });

  it("keep no password and no cookie that could be used", async () => {
    const [member] = await runtime.db.rows<{ hash: string }>("select password_hash as hash from members limit 1");
    // OWASP (from memory): Argon2id with 19 MiB, 2 passes, 1 lane, or stronger.
    expect(member!.hash).toMatch(/^\$argon2id\$v=19\$m=19456,t=2,p=1\$/);
    const token = await runtime.sessions.start((await runtime.db.models.Member.findOne())!.id);
    const rows = await runtime.db.rows<{ id: Buffer }>("select id from sessions");
    expect(rows.some((r) => r.id.toString("base64url") === token || r.id.toString("utf8") === token)).toBe(false);
  });

  it("refuse an address that is taken, also in a race", async () => {
    await expect(runtime.accounts.signUp(person)).rejects.toMatchObject({ status: 409, code: "email-taken" });
    const race = { ...person, email: "race@glasshouse.test" };
    const results = await Promise.allSettled([1, 2, 3].map(() => runtime.accounts.signUp(race)));
    expect(results.filter((r) => r.status === "fulfilled")).toHaveLength(1);
    const [{ n } = { n: 0 }] = await runtime.db.rows<{ n: number }>("select count(*)::int as n from workspaces");
    expect(n).toBe(2);
  });

  it("say the same of a wrong password and of nobody, and slow down guessing", async () => {
    const guess = (email: string, address: string) =>
      runtime.accounts.signIn({ email, password: "wrong" }, address).catch((e: Error) => e.message);
    expect(await guess(person.email, "10.0.0.2")).toBe(await guess("nobody@glasshouse.test", "10.0.0.2"));
    for (let n = 0; n < 8; n++) await guess(person.email, "10.0.0.3");
    await expect(runtime.accounts.signIn(person, "10.0.0.3")).rejects.toMatchObject({
      status: 429,
      detail: { retryAfter: expect.any(Number) },
    });
    // Another address is not locked out by that.
    await expect(runtime.accounts.signIn(person, "10.0.0.4")).resolves.toBeTruthy();
  });

  it.each([
    [{ ...person, email: "not an address" }, "email"],
    [{ ...person, password: "short" }, "password"],
    [{ ...person, name: " " }, "name"],
    [{ ...person, workspace: "x".repeat(81) }, "workspace"],
  ])("refuse a form, naming the field (case %#)", (form, field) => {
    expect(signUpForm.validate(form).error?.details[0]?.path).toEqual([field]);
  });
});
