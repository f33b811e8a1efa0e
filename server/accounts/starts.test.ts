import { afterAll, beforeAll, expect, inject, it } from "vitest";
import { codeOf, freshRuntime, newMember } from "../../testing/server";
import type { Runtime } from "../runtime";

let runtime: Runtime;
beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"), { ROLE: "web" })));
afterAll(() => runtime.close());

const FROM = "10.0.0.1";
let nth = 0;
const newAddress = () => `start${Date.now()}-${nth++}@client.example`;
const given = { name: "Ida Crake", workspace: "Crake & Moss", password: "ridge-vent-and-putty" };

async function ask(email: string, to = "/library", from = FROM): Promise<{ subject: string; text: string }[]> {
  await runtime.starts.ask(email, to, from);
  await runtime.starts.settled();
  const all = await runtime.db.models.Mail.findAll({ where: { toAddress: email }, order: [["madeAt", "DESC"]] });
  return all.map(({ subject, text }) => ({ subject, text: text! }));
}
const tokenIn = (text: string) => /\/start\/([\w-]{32})/.exec(text)![1]!;

it("starts by the letter, once, with the address that it went to, which is proved by that", async () => {
  const email = newAddress();
  const [letter] = await ask(email, "/w/some-recording");
  expect(letter!.text).toContain(`?to=${encodeURIComponent("/w/some-recording")}`);
  const token = tokenIn(letter!.text);
  expect(await runtime.starts.addressOf(token)).toBe(email);
  const twice = await Promise.all([1, 2].map(() => codeOf(runtime.starts.start(token, given, FROM))));
  expect(twice.filter((one) => one === "done")).toHaveLength(1);
  const person = await runtime.db.models.Person.findOne({ where: { email } });
  expect(person!.provedAt).not.toBeNull();
  expect(await runtime.accounts.signIn({ email, password: given.password }, { address: FROM, computer: null })).toBe(
    person!.id,
  );
  for (const wrong of [token, "x".repeat(32), ""])
    expect(await codeOf(runtime.starts.addressOf(wrong))).toBe("not-open");
});

it("says the same to whoever asks, and tells whoever reads the letter that there is an account", async () => {
  const { email } = await newMember(runtime, "Tom Reed");
  const [letter] = await ask(email);
  expect(letter!.subject).toBe("You have an account at Clear Nod");
  expect(letter!.text).toContain("/sign-in");
  expect(letter!.text).not.toContain("/start/");
});

it("mails one address three times within an hour and six within a day, wherever it is asked for", async () => {
  const email = newAddress();
  for (let n = 0; n < 5; n++) await ask(email, "/library", `10.0.1.${n}`);
  expect(await ask(email, "/library", "10.0.2.1")).toHaveLength(3);
  for (let hours = 0; hours < 4; hours++) {
    await runtime.db.rows("update starts set made_at = made_at - interval '61 minutes' where email = $1 returning 1", [
      email,
    ]);
    for (let n = 0; n < 4; n++) await ask(email, "/library", `10.0.3.${n}`);
  }
  expect(await ask(email)).toHaveLength(6);
});

it("is closed where people have to be invited, also to who has a letter", async () => {
  const [letter] = await ask(newAddress());
  const closed = await freshRuntime(inject("databaseUrl"), { ROLE: "web", SIGN_UP: "invited" });
  try {
    // Whoever comes first may in any case.
    await newMember(closed);
    expect(await codeOf(closed.starts.ask(newAddress(), "/library", FROM))).toBe("invited-only");
    expect(await codeOf(closed.starts.start(tokenIn(letter!.text), given, FROM))).toBe("not-open");
  } finally {
    await closed.close();
  }
});

it("starts nothing after a day, and leaves nothing", async () => {
  const [letter] = await ask(newAddress());
  const token = tokenIn(letter!.text);
  await runtime.db.rows("update starts set ends_at = now() - interval '2 days' returning email");
  expect(await codeOf(runtime.starts.start(token, given, FROM))).toBe("not-open");
  await runtime.starts.clear();
  expect(await runtime.db.rows("select email from starts")).toEqual([]);
});
