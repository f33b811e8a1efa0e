import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import { pushWords } from "#core/notices/push";
import { FIRST_WISHES } from "#core/notices/wishes";
import { Browser, sharedRecording } from "../../testing/answers";
import { pushService, senderOf, TellingBrowser } from "../../testing/push-service";
import { freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import { Post } from "../mail/post";
import type { Runtime } from "../runtime";
import { Push, pushForms } from "./push";

let runtime: Runtime;
let service: Awaited<ReturnType<typeof pushService>>;
let suri: SignedIn;
/** A session of hers, by its name, and its browser. */
let session: string;
let browser: TellingBrowser;
let endpoints = 0;
// As in the sample: a service on this computer may be asked, and letters are kept. Nothing is carried but here.
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"), { DEMO: "on", ROLE: "web" });
  service = await pushService();
});
beforeEach(async () => {
  suri = await newMember(runtime, "Suri Vale");
  session = runtime.sessions.idOf(await runtime.sessions.start(suri.id));
  browser = new TellingBrowser(`${service.url}/${++endpoints}`);
  await runtime.push.start(session, browser.subscription);
  service.sent.length = 0;
  service.status = 201;
});
afterAll(async () => {
  await service.close();
  await runtime.close();
});

const mails = () => runtime.db.models.Mail.findAll({ where: { toAddress: suri.email }, order: ["madeAt"] });
const tells = async () => (await runtime.sessions.of(suri.id)).some((one) => one.tells);
/** Somebody comments; what is due is told; the letter is carried. @returns the letter */
async function commented(body = "Bay C, or bay D?") {
  const ida = await new Browser(runtime, await sharedRecording(runtime, suri, "Pane schedule")).as("Ida");
  await ida.say({ do: "comment", body, at: 2_000_000, until: null });
  await runtime.db.rows(
    "update inbox set at = at - interval '2 hours', due_at = due_at - interval '2 hours' returning at",
  );
  await runtime.db.rows("update people set told_at = null where told_at is not null returning id");
  await runtime.teller.tell(new AbortController().signal);
  const mail = (await mails()).at(-1)!;
  await runtime.post.carry(mail.id);
  return mail.reload();
}
/** So long ago browsers were told. */
const pushedAgo = (minutes: number) =>
  runtime.db.rows(`update mails set pushed_at = now() - interval '${minutes} minutes' where pushed_at is not null
    returning id`);

describe("what is told in a browser", () => {
  it("is sealed for it, signed by this server, and not mailed once it was shown", async () => {
    const mail = await commented();
    const [sent, ...more] = service.sent;
    expect(more).toEqual([]);
    expect(browser.open(sent!)).toEqual({
      id: mail.id,
      title: "Pane schedule",
      body: "Ida comments at 0:02: “Bay C, or bay D?”",
      url: expect.stringMatching(/^http:\/\/localhost:\d+\/w\/[\w-]+$/) as string,
    });
    expect(sent!.headers.ttl).toBe("600");
    const { aud, exp, sub } = senderOf(sent!, runtime.push.publicKey);
    expect([aud, sub]).toEqual([service.url, `mailto:${runtime.settings.mailFrom}`]);
    // Of RFC 8292: no longer than a day.
    expect(exp - Date.now() / 1000).toBeLessThanOrEqual(24 * 3_600);
    expect(mail).toMatchObject({ sentAt: null, shownAt: null, pushedAt: expect.any(Date) as Date });
    await runtime.post.shown(suri.id, mail.id);
    await pushedAgo(20);
    await runtime.post.carry(mail.id);
    await mail.reload();
    expect(mail).toMatchObject({ sentAt: mail.shownAt, shownAt: expect.any(Date) as Date, push: null });
  });

  it("is mailed where no browser has shown it in ten minutes", async () => {
    const mail = await commented();
    await pushedAgo(10);
    await runtime.post.carry(mail.id);
    expect((await mail.reload()).sentAt).toBeNull();
    await pushedAgo(12);
    await runtime.post.carryForgotten();
    await runtime.post.carry(mail.id);
    expect(await mail.reload()).toMatchObject({ sentAt: expect.any(Date) as Date, shownAt: null, push: null });
    expect(service.sent).toHaveLength(1);
    // Too late: it was mailed.
    await runtime.post.shown(suri.id, mail.id);
    expect((await mail.reload()).shownAt).toBeNull();
  });

  it("is looked at again by itself when its time is over, and not before", async () => {
    const { id } = await commented();
    await runtime.db.rows("update mails set made_at = now() - interval '1 hour' where id = $1 returning id", [id]);
    const asked: string[] = [];
    const nobody = { tell: () => Promise.resolve(false) };
    const later = (mailId: string) => Promise.resolve(asked.push(mailId));
    const carrier = { keepsWords: true, delivers: false, carry: () => Promise.resolve(), close: () => undefined };
    const post = new Post(runtime.db, carrier, runtime.settings, later, () => Promise.resolve(), nobody);
    await pushedAgo(10);
    await post.carryForgotten();
    expect(asked).not.toContain(id);
    await pushedAgo(12);
    await post.carryForgotten();
    expect(asked).toContain(id);
  });

  it("is mailed at once where the service fails, and the browser is told the next time", async () => {
    service.status = 503;
    expect(await commented()).toMatchObject({ sentAt: expect.any(Date) as Date, pushedAt: null });
    service.status = 201;
    expect(await commented("Again")).toMatchObject({ sentAt: null, pushedAt: expect.any(Date) as Date });
  });

  it.each([404, 410, 403])("is mailed, and never told there again, where the service answers %d", async (status) => {
    service.status = status;
    expect(await tells()).toBe(true);
    expect((await commented()).sentAt).toBeInstanceOf(Date);
    expect(await tells()).toBe(false);
  });

  it("is not what is gathered", async () => {
    const mail = { ...FIRST_WISHES.mail, comment: "day" as const };
    await runtime.wishes.save(suri, { ...FIRST_WISHES, mail });
    await runtime.db.rows("update people set told_at = null returning id");
    const ida = await new Browser(runtime, await sharedRecording(runtime, suri)).as("Ida");
    await ida.say({ do: "comment", body: "Gathered", at: 0, until: null });
    await runtime.db.rows("update inbox set due_at = now() - interval '1 minute' where person_id = $1 returning at", [
      suri.id,
    ]);
    await runtime.db.rows("update inbox set at = at - interval '2 days' where person_id = $1 returning at", [suri.id]);
    await runtime.teller.tell(new AbortController().signal);
    await runtime.post.carry((await mails())[0]!.id);
    expect(service.sent).toEqual([]);
  });

  it("comes where mail of news is not wanted as well", async () => {
    await runtime.db.models.MailRefusal.create({ address: suri.email, what: "news" });
    const mail = await commented();
    expect(service.sent).toHaveLength(1);
    await pushedAgo(12);
    await runtime.post.carry(mail.id);
    expect(await mail.reload()).toMatchObject({ failed: "They want no mail from here.", sentAt: null, push: null });
  });

  it("is said to have been shown by whom it was for alone", async () => {
    const mail = await commented();
    const bram = await newMember(runtime, "Bram Lark");
    await runtime.post.shown(bram.id, mail.id);
    expect((await mail.reload()).shownAt).toBeNull();
  });

  it("ends with the session, and when whoever signs in there after them is told", async () => {
    const bram = await newMember(runtime, "Bram Lark");
    const his = runtime.sessions.idOf(await runtime.sessions.start(bram.id));
    await runtime.push.start(his, browser.subscription);
    expect(await tells()).toBe(false);
    await runtime.push.start(session, new TellingBrowser(`${service.url}/other`).subscription);
    await runtime.sessions.endOf(suri.id, { only: session });
    await commented();
    expect(service.sent).toEqual([]);
  });

  it("ends where it is not wanted any more", async () => {
    await runtime.push.end(session);
    await commented();
    expect(service.sent).toEqual([]);
  });

  it("comes to ten browsers at the most", async () => {
    for (let n = 0; n < 12; n++) {
      const one = runtime.sessions.idOf(await runtime.sessions.start(suri.id));
      await runtime.push.start(one, new TellingBrowser(`${service.url}/many/${suri.id}/${n}`).subscription);
    }
    await commented();
    expect(service.sent).toHaveLength(10);
  });

  it("is not sent into a private network", async () => {
    const { db, log, settings } = runtime;
    const careful = new Push({ db, log, allows: () => false }, settings);
    expect(await careful.tell(suri.id, { id: "a", title: "b", body: "c", url: "d" })).toBe(false);
    expect(service.sent).toEqual([]);
  });
});

it("has the same keys in every process, and others with another secret", () => {
  const { db, log, settings } = runtime;
  const keys = (sessionSecret: string) => new Push({ db, log, allows: () => true }, { ...settings, sessionSecret });
  expect(keys(settings.sessionSecret).publicKey).toBe(runtime.push.publicKey);
  expect(keys("another secret that is long enough").publicKey).not.toBe(runtime.push.publicKey);
  expect(runtime.push.publicKey).toMatch(/^[\w-]{87}$/);
});

describe("by what a browser is told", () => {
  const { p256dh, auth } = new TellingBrowser("https://push.example.org/a").subscription.keys;
  const whole = { endpoint: "https://push.example.org/a", keys: { p256dh, auth } };
  const wrong = "This is nothing by which a browser is told.";
  it.each([
    ["as browsers give it", { ...whole, expirationTime: null }, null],
    ["on a line that others read", { ...whole, endpoint: "http://push.example.org/a" }, wrong],
    ["with a name and a password", { ...whole, endpoint: "https://a:b@push.example.org/a" }, wrong],
    ["with a key that is no point", { ...whole, keys: { p256dh: "B" + "A".repeat(86), auth } }, wrong],
    ["with a short secret", { ...whole, keys: { p256dh, auth: "AAAA" } }, wrong],
    ["without keys", { endpoint: whole.endpoint }, wrong],
    ["nothing", null, wrong],
  ])("%s", (_, subscription, message) => {
    expect(pushForms.push.validate({ subscription: JSON.stringify(subscription) }).error?.message ?? null).toBe(
      message,
    );
  });
});

describe("a few words of notices", () => {
  const notice = { kind: "comment" as const, title: "Putty", url: "https://nod/w/1", who: "Ida", words: "Why?", at: 0 };
  it("are of one recording, or lead to where all are found", () => {
    expect(pushWords([notice, notice], "https://nod/answers")).toEqual({
      title: "2 news: Putty",
      body: "Ida comments at 0:00: “Why?”\nIda comments at 0:00: “Why?”",
      url: "https://nod/w/1",
    });
    expect(pushWords([notice, { ...notice, url: "https://nod/w/2" }], "https://nod/answers").url).toBe(
      "https://nod/answers",
    );
  });

  it("fit, however much is said, in whatever letters", () => {
    const { title, body } = pushWords(
      Array.from({ length: 300 }, () => ({ ...notice, title: "文".repeat(200), words: "𝔸".repeat(300) })),
      notice.url,
    );
    expect(Buffer.byteLength(JSON.stringify({ title, body }))).toBeLessThan(3_300);
    expect(body.isWellFormed()).toBe(true);
  });
});
