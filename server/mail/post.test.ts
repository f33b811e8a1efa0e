import type { AddressInfo } from "node:net";
import { simpleParser, type ParsedMail } from "mailparser";
import { SMTPServer } from "smtp-server";
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { codeOf, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";
import { Bounced, carrierOf, smtpCarrier, type Carrier } from "./carrier";
import { Post } from "./post";

/**
 * A mail server on loopback (`smtp-server`, from the registry) that takes what it is sent, refuses for good whoever is
 * called nobody, and for now whoever is called later; what it took is read by `mailparser`.
 */
async function mailServer() {
  const taken: ParsedMail[] = [];
  let away = false;
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["STARTTLS"],
    onRcptTo({ address }, _, done) {
      const refuse = (code: number, words: string) => done(Object.assign(new Error(words), { responseCode: code }));
      if (address.startsWith("nobody@")) return refuse(550, "No such person here");
      if (away) return refuse(451, "Come back later");
      done();
    },
    onData(stream, _, done) {
      simpleParser(stream).then((mail) => {
        taken.push(mail);
        done();
      }, done);
    },
  });
  await new Promise<void>((up) => server.listen(0, "127.0.0.1", up));
  const { port } = server.server.address() as AddressInfo;
  return {
    taken,
    url: `smtp://127.0.0.1:${port}`,
    set away(is: boolean) {
      away = is;
    },
    close: () => new Promise<void>((down) => server.close(() => down())),
  };
}

/** Nobody has a browser that tells anything. */
const nobody = { tell: () => Promise.resolve(false) };
let runtime: Runtime;
let suri: SignedIn;
let server: Awaited<ReturnType<typeof mailServer>>;
let carrier: Carrier;
let post: Post;
const noted: string[] = [];
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  suri = await newMember(runtime, "Suri Vale");
  server = await mailServer();
  carrier = smtpCarrier(server.url, "nod@glasshouse.test");
  const settings = { publicUrl: "https://nod.test", sessionSecret: "a secret of this server" };
  post = new Post(
    runtime.db,
    carrier,
    settings,
    () => Promise.resolve(),
    async (id) => void noted.push(id),
    nobody,
  );
});
afterAll(async () => {
  carrier.close();
  await server.close();
  await runtime.close();
});

async function written(address: string, recording: { recordingId: string; inviteId: string } | null = null) {
  return post.write({
    kind: recording ? "recording" : "code",
    to: { address, name: "Hester Quill" },
    from: recording && { id: suri.id, name: "Suri Välé", address: suri.email },
    letter: {
      subject: "Scheiben — “north range”",
      title: "Pane schedule",
      paragraphs: ["Twelve panes are cracked: Größe 452 × 600."],
      link: { words: "Watch it", url: "https://nod.test/for/abc" },
      foot: ["A foot."],
    },
    ...recording,
  });
}
async function named(who: string) {
  const { recordingId } = await runtime.takes.start(suri, { source: "voice", title: "Panes", audience: "anyone" });
  await runtime.invites.add(recordingId, who);
  const invite = (await runtime.db.models.Invite.findOne({ where: { recordingId } }))!;
  return { recordingId, inviteId: invite.id, invite };
}

describe("mail by SMTP", () => {
  it("arrives as text and as HTML, from us in somebody's name, and its answer goes to them", async () => {
    const { invite, ...about } = await named("Hester Quill <hester@quill.example>");
    const id = await written("hester@quill.example", about);
    await post.carry(id);
    const mail = server.taken.at(-1)!;
    expect(mail.subject).toBe("Scheiben — “north range”");
    expect(mail.text).toContain("Größe 452 × 600");
    expect(mail.html).toContain("Größe 452 × 600");
    expect(mail.from!.value).toEqual([{ name: "Suri Välé (Clear Nod)", address: "nod@glasshouse.test" }]);
    expect(mail.replyTo!.value[0]!.address).toBe(suri.email);
    expect(mail.to).toMatchObject({ value: [{ name: "Hester Quill", address: "hester@quill.example" }] });
    expect(mail.messageId).toBe(`<${id}@glasshouse.test>`);
    // RFC 8058, 3.1: both fields, the address in angle brackets by HTTPS.
    const list = mail.headers.get("list") as unknown as {
      unsubscribe: { url: string };
      "unsubscribe-post": { name: string };
    };
    expect(list.unsubscribe.url).toMatch(/^https:\/\/nod\.test\/no-mail\//);
    expect(list["unsubscribe-post"].name).toBe("List-Unsubscribe=One-Click");
    expect(mail.text).toContain(list.unsubscribe.url);
    await invite.reload();
    expect(invite).toMatchObject({ mailedAt: expect.any(Date), bounced: null });
    expect(noted).toContain(about.recordingId);
    // What was sent is not kept, and is not sent twice.
    expect(await runtime.db.models.Mail.findByPk(id)).toMatchObject({
      text: null,
      html: null,
      sentAt: expect.any(Date),
    });
    await post.carry(id);
    expect(server.taken).toHaveLength(1);
  });

  it("that comes back is noted at the person, and not tried again", async () => {
    const { invite, ...about } = await named("Odo <nobody@quill.example>");
    const id = await written("nobody@quill.example", about);
    await post.carry(id);
    await invite.reload();
    expect(invite.bounced).toContain("No such person here");
    expect(invite.mailedAt).toBeNull();
    const before = server.taken.length;
    await post.carry(id);
    expect(server.taken.length).toBe(before);
    await expect(
      carrier.carry(
        {
          id,
          kind: "code",
          toAddress: "nobody@x.example",
          toName: null,
          sender: null,
          subject: "a",
          text: "a",
          html: "a",
        },
        "",
      ),
    ).rejects.toBeInstanceOf(Bounced);
  });

  it("is tried again while the mail server is away, and arrives then", async () => {
    const id = await written("later@quill.example");
    server.away = true;
    await expect(post.carry(id)).rejects.toThrow();
    expect((await runtime.db.models.Mail.findByPk(id))!.failed).toMatch(/cannot be reached yet/);
    server.away = false;
    await post.carry(id);
    expect(server.taken.at(-1)!.to).toMatchObject({ text: expect.stringContaining("later@quill.example") });
    expect((await runtime.db.models.Mail.findByPk(id))!.failed).toBeNull();
  });

  it("is asked for once more where the process ended before it had asked", async () => {
    const asked: string[] = [];
    const settings = { publicUrl: "https://nod.test", sessionSecret: "a secret" };
    const again = new Post(
      runtime.db,
      carrier,
      settings,
      async (id) => void asked.push(id),
      () => Promise.resolve(),
      nobody,
    );
    const id = await written("forgotten@quill.example");
    await again.carryForgotten();
    expect(asked).not.toContain(id);
    await runtime.db.models.Mail.update({ madeAt: new Date(Date.now() - 180_000) }, { where: { id } });
    await again.carryForgotten();
    expect(asked).toContain(id);
    await post.carry(id);
    asked.length = 0;
    await again.carryForgotten();
    expect(asked).not.toContain(id);
  });

  it("cannot be made to carry other headers or other people by what is written in names and titles", async () => {
    const id = await post.write({
      kind: "recording",
      to: { address: "hester@quill.example", name: 'H"\r\nBcc: eve@evil.example' },
      from: { id: suri.id, name: "Suri\r\nBcc: eve@evil.example", address: suri.email },
      letter: { subject: "a\r\nBcc: eve@evil.example\r\n\r\nwords", title: "t", paragraphs: [], foot: [] },
    });
    await post.carry(id);
    const mail = server.taken.at(-1)!;
    expect(mail.bcc).toBeUndefined();
    expect([...mail.headers.keys()].filter((name) => /bcc/i.test(name))).toEqual([]);
    expect(mail.to).toMatchObject({ value: [{ address: "hester@quill.example" }] });
  });

  it("goes to nobody who wants none, until they want it again; codes go all the same", async () => {
    const { invite, ...about } = await named("Wren <wren@quill.example>");
    await post.carry(await written("wren@quill.example", about));
    const { unsubscribe } = server.taken.at(-1)!.headers.get("list") as unknown as { unsubscribe: { url: string } };
    const link = unsubscribe.url.split("/no-mail/")[1]!;
    expect(post.refusalBy(link)).toEqual({ address: "wren@quill.example", what: "sent" });
    await post.setRefusal(link, true);
    await post.setRefusal(link, true);
    const before = server.taken.length;
    await post.carry(await written("wren@quill.example", about));
    expect(server.taken.length).toBe(before);
    await invite.reload();
    expect(invite.bounced).toBe("They want no mail from here.");
    await post.carry(await written("wren@quill.example"));
    expect(server.taken.length).toBe(before + 1);
    await post.setRefusal(link, false);
    await post.carry(await written("wren@quill.example", about));
    expect(server.taken.length).toBe(before + 2);
  });

  it.each([
    "",
    "x",
    "d3JlbkBxdWlsbC5leGFtcGxl.",
    `${Buffer.from("eve@evil.example").toString("base64url")}.${"a".repeat(22)}`,
  ])("a link to end mail that was made up is none: %s", (link) =>
    expect(() => post.refusalBy(link)).toThrow(/nothing at this address/),
  );
});

it("where no mail server is set up, and it is not the sample, nothing is kept and whoever waits is told", async () => {
  const none = carrierOf({ mailUrl: null, mailFrom: "nod@glasshouse.test", demo: false });
  const silent = new Post(
    runtime.db,
    none,
    { publicUrl: "https://nod.test", sessionSecret: "a secret" },
    () => Promise.resolve(),
    () => Promise.resolve(),
    nobody,
  );
  const { invite, ...about } = await named("Maud <maud@quill.example>");
  const id = await written("maud@quill.example", about);
  await silent.carry(id);
  expect(await runtime.db.models.Mail.findByPk(id)).toMatchObject({ text: null, html: null, sentAt: null });
  await invite.reload();
  expect(invite.bounced).toBe("It came back: No mail server is set up here.");
  await expect(silent.kept()).rejects.toMatchObject({ status: 404 });
});

describe("sending a recording", () => {
  it("mails whoever is named and has an address, with links of their own; a draft is open to them from then on", async () => {
    const { recordingId, token } = await runtime.takes.start(suri, {
      source: "voice",
      title: "Panes",
      audience: "owner",
    });
    await runtime.invites.add(recordingId, "Ida <ida@crake.example>; Tom; Wren <w@quill.example>");
    const people = await runtime.sender.toMail(recordingId, []);
    expect(people.map((p) => p.name).sort()).toEqual(["Ida", "Wren"]);
    const words = "Look at bay C.";
    expect(await runtime.sender.send(suri, recordingId, { people, words })).toBe(2);
    const mails = await runtime.db.models.Mail.findAll({ where: { recordingId } });
    for (const mail of mails) {
      expect(mail.text).toContain("> Look at bay C.");
      const key = /\/for\/([\w-]+)/.exec(mail.text!)![1]!;
      const { pass } = await runtime.doors.personal(key);
      expect((await runtime.access.find({ id: null, memberships: [], passes: [pass] }, token)).door).toBe("open");
    }
    expect((await runtime.access.find(null, token)).door).toBe("nothing");
    // The stand-in carries them: the job notes that they are gone.
    await expect
      .poll(
        async () =>
          (await runtime.db.models.Invite.findAll({ where: { recordingId } })).filter((i) => i.mailedAt).length,
      )
      .toBe(2);
    await expect(runtime.sender.send(suri, recordingId, { people: [], words: "" })).rejects.toMatchObject({
      status: 422,
    });
  });
});

it("nobody gets more than 40 letters a day that others have sent, from however many accounts", async () => {
  const senders = [suri, await newMember(runtime, "Mallory One"), await newMember(runtime, "Mallory Two")];
  const letter = { subject: "Look", title: "Look", paragraphs: ["Words of somebody."], foot: [] };
  const to = { address: "ida@flooded.example", name: "Ida" };
  const send = (n: number, subject = `Look, ${n}`) => {
    const { id, name, email } = senders[n % 3]!;
    const from = { id, name, address: email };
    return codeOf(post.write({ kind: "recording", to, from, letter: { ...letter, subject } }));
  };
  // The same letter once, and again where it did not come; others may be sent meanwhile.
  const again: unknown[] = [];
  for (let n = 0; n < 5; n++) again.push(await send(0, "Look at bay C"));
  expect(again).toEqual(["done", "done", "done", "sent-again", "sent-again"]);
  const codes: unknown[] = [];
  for (let n = 0; n < 39; n++) codes.push(await send(n));
  expect(codes.slice(35)).toEqual(["done", "done", "many-letters", "many-letters"]);
  // What she asks for herself comes all the same, and others get theirs.
  expect(await codeOf(post.write({ kind: "code", to, from: null, letter }))).toBe("done");
  to.address = "tom@flooded.example";
  expect(await send(0)).toBe("done");
});

it("nobody mails others before their own address is proved; a link does that, and so does a mailed invitation", async () => {
  const mallory = await newMember(runtime, "Mallory Three");
  await runtime.db.models.Person.update({ provedAt: null }, { where: { id: mallory.id } });
  const asked: string[] = [];
  post.askProof = async (personId) => void asked.push(personId);
  const letter = { subject: "Look", title: "Look", paragraphs: [], foot: [] };
  const to = { address: "wren@quill.example", name: null };
  const from = { id: mallory.id, name: mallory.name, address: mallory.email };
  expect(await codeOf(post.write({ kind: "recording", to, from, letter }))).toBe("unproved");
  expect(asked).toEqual([mallory.id]);
  await runtime.account.askProof(mallory.id);
  // One that was sent just now is not sent again.
  await runtime.account.askProof(mallory.id);
  const letters = await runtime.db.models.Mail.findAll({ where: { toAddress: mallory.email, kind: "address" } });
  expect(letters).toHaveLength(1);
  const token = /\/confirm\/([\w-]+)/.exec(letters[0]!.text!)![1]!;
  expect(await runtime.account.confirmAddress(token, mallory)).toBe(mallory.email);
  expect(await codeOf(post.write({ kind: "recording", to, from, letter }))).toBe("done");

  await runtime.workspaces.invite(mallory, { who: "tom@reed.example", role: "member", days: 7 });
  const [link] = await runtime.db.rows<{ token: string }>("select token from join_links where address = $1", [
    "tom@reed.example",
  ]);
  const account = { name: "Tom", email: "tom@reed.example", password: "ridge-vent-and-putty" };
  const tom = await runtime.accounts.signUpToJoin(account, link!.token, "198.51.100.7");
  expect((await runtime.db.models.Person.findByPk(tom))!.provedAt).not.toBeNull();
});
