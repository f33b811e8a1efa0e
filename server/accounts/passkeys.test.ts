import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import { wrongField } from "../../testing/forms";
import { Authenticator } from "../../testing/authenticator";
import { freshRuntime, newMember } from "../../testing/server";
import type { Runtime } from "../runtime";
import { passkeyForm, Passkeys } from "./passkeys";
import type { SignedIn } from "./sessions";

const ADDRESS = "198.51.100.7";
let runtime: Runtime;
let orla: SignedIn;
let bram: SignedIn;
beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"))));
beforeEach(async () => ([orla, bram] = [await newMember(runtime), await newMember(runtime, "Bram Lark")]));
afterAll(() => runtime.close());

const key = (counter = 0) => new Authenticator(runtime.settings.publicUrl, counter);
const PASSWORD = "ridge-vent-and-putty";
const begin = (member: SignedIn) => runtime.passkeys.beginAdding(member, PASSWORD, ADDRESS);
async function added(member: SignedIn, passkey = key()): Promise<Authenticator> {
  await runtime.passkeys.add(member, passkey.register(await begin(member)), "Chromium on Linux");
  return passkey;
}
const enter = async (passkey: Authenticator, wrong = {}) =>
  runtime.passkeys.enter(passkey.show(await runtime.passkeys.begin(), wrong));

/** The reference library checks what a passkey of our own signs, and each is held to what the page sends. */
describe("passkeys", () => {
  it("let somebody in without a word, and say when they were used", async () => {
    const passkey = await added(orla);
    const options = await runtime.passkeys.begin();
    const shown = passkey.show(options);
    expect(passkeyForm.validate({ do: "enter", response: shown }).error).toBeUndefined();
    expect(await runtime.passkeys.enter(shown)).toEqual({ personId: orla.id, email: orla.email });
    const [line] = await runtime.passkeys.of(orla.id);
    expect(line).toMatchObject({ id: passkey.id, name: "Chromium on Linux" });
    expect(line!.usedAt).not.toBeNull();
    // The same once more proves nothing: what it signed is used up.
    await expect(runtime.passkeys.enter(shown)).rejects.toMatchObject({ status: 422, code: "not-proved" });
  });

  it("are made by who gives their password, for themselves, on a device that has none of theirs", async () => {
    await expect(runtime.passkeys.beginAdding(orla, "not the password", ADDRESS)).rejects.toMatchObject({
      code: "wrong-password",
    });
    const options = await begin(orla);
    expect([options.rp.id, options.user.name]).toEqual(["localhost", orla.email]);
    const passkey = key();
    const made = passkey.register(options);
    expect(passkeyForm.validate({ do: "add", response: made }).error).toBeUndefined();
    await expect(runtime.passkeys.add(bram, made, "x")).rejects.toMatchObject({ code: "not-proved" });
    await runtime.passkeys.add(orla, made, "x");
    expect((await begin(orla)).excludeCredentials).toMatchObject([{ id: passkey.id }]);
    await expect(added(bram, passkey)).rejects.toMatchObject({ status: 409, code: "passkey-taken" });
    const told = await runtime.db.models.Mail.findAll({ where: { toAddress: orla.email, kind: "changed" } });
    expect(told).toHaveLength(1);
  });

  it.each([
    ["of another site", { origin: "https://clear-nod.example" }],
    ["for another host", { host: "example.org" }],
    ["that has not asked its person", { unverified: true }],
  ])("prove nothing by an answer %s", async (_, wrong) => {
    const passkey = key();
    await expect(runtime.passkeys.add(orla, passkey.register(await begin(orla), wrong), "x")).rejects.toMatchObject({
      code: "not-proved",
    });
    await added(orla, passkey);
    await expect(enter(passkey, wrong)).rejects.toMatchObject({ code: "not-proved" });
  });

  it("prove nothing by another's key, another's challenge, or one that is too old", async () => {
    const passkey = await added(orla);
    const forged = Object.assign(key(), { id: passkey.id });
    await expect(enter(forged)).rejects.toMatchObject({ code: "not-proved" });
    await expect(runtime.passkeys.enter(passkey.show(await begin(orla)))).rejects.toMatchObject({ code: "not-proved" });
    await expect(runtime.passkeys.add(orla, key().register(await runtime.passkeys.begin()), "x")).rejects.toMatchObject(
      { code: "not-proved" },
    );
    const late = await runtime.passkeys.begin();
    await runtime.db.rows("update challenges set ends_at = now()", []);
    await expect(runtime.passkeys.enter(passkey.show(late))).rejects.toMatchObject({ code: "not-proved" });
    // What is over goes when others come.
    await runtime.passkeys.begin();
    expect(await runtime.db.models.Challenge.count()).toBe(1);
  });

  it("count up, where they count: a copy of one is found out", async () => {
    const passkey = await added(orla, key(5));
    passkey.counter = 6;
    await enter(passkey);
    await expect(enter(passkey)).rejects.toMatchObject({ status: 422 });
    passkey.counter = 7;
    await enter(passkey);
  });

  it("are removed by whose they are, and open nothing then", async () => {
    const passkey = await added(orla);
    await runtime.passkeys.end(bram, passkey.id);
    await enter(passkey);
    await runtime.passkeys.end(orla, passkey.id);
    await expect(enter(passkey)).rejects.toMatchObject({ status: 401, code: "no-passkey" });
  });

  it("are at most so many, also when they are made at once", async () => {
    const { Passkey } = runtime.db.models;
    const some = Array.from({ length: 18 }, (_, i) => ({
      ...{
        id: `${orla.id}-${i}`,
        personId: orla.id,
        publicKey: Buffer.alloc(1),
        counter: 0,
        transports: [],
        name: "x",
      },
    }));
    await Passkey.bulkCreate(some);
    const made = await Promise.allSettled(Array.from({ length: 5 }, () => added(orla)));
    expect(made.filter(({ status }) => status === "fulfilled")).toHaveLength(2);
    expect(await Passkey.count({ where: { personId: orla.id } })).toBe(20);
  });

  it("are offered where the address is a name", () => {
    const at = (publicUrl: string) => new Passkeys({} as never, { publicUrl, sessionSecret: "x" }).offered;
    expect([at("https://nod.example"), at("http://localhost:5173")]).toEqual([true, true]);
    expect([at("http://127.0.0.1:5173"), at("http://[::1]:80")]).toEqual([false, false]);
  });

  it.each([
    ["do", {}],
    ["response", { do: "enter" }],
    ["response.id", { do: "enter", response: { id: "a b", rawId: "a", type: "public-key", response: {} } }],
    [
      "response.type",
      { do: "add", response: { id: "a", rawId: "a", type: "password", response: { clientDataJSON: "a" } } },
    ],
    ["current", { do: "begin-add" }],
  ])("are asked for in a form: %s is wrong in %j", (field, said) => expect(wrongField(passkeyForm, said)).toBe(field));
});
