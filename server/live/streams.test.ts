import { createServer, request, type IncomingMessage } from "node:http";
import { createParser } from "eventsource-parser";
import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import { Browser, sharedRecording } from "../../testing/answers";
import { databaseUrlOf, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import type { Who } from "../answers/viewers";
import { Problem } from "../http/problem";
import { sendProblem } from "../http/send";
import { openRuntime, type Runtime } from "../runtime";
import { Admission } from "./admission";
import { Connection } from "./connection";
import { eventsHandler, type ListeningWho } from "./handler";
import type { Told } from "./streams";

const S = 1_000_000;
let one: Runtime;
/** another app process on the same database */
let two: Runtime;
let orla: SignedIn;
const closing: (() => void)[] = [];

beforeAll(async () => {
  one = await freshRuntime(inject("databaseUrl"));
  two = await openRuntime(one.settings, databaseUrlOf(one));
  orla = await newMember(one);
});
afterAll(async () => {
  for (const close of closing) close();
  await two.close();
  await one.close();
});

/** Listens as a browser does. */
async function listen(
  runtime: Runtime,
  path: string,
  who: Partial<ListeningWho> & Pick<Who, "member" | "guestKey">,
  lastEventId?: number,
) {
  const handler = eventsHandler(runtime);
  const server = createServer((req, res) => {
    handler(req, res, req.url!.split("?")[0]!, { session: null, address: "198.51.100.7", ...who }).catch(
      (error: unknown) => {
        if (!(error instanceof Problem)) throw error;
        sendProblem(req, res, error);
      },
    );
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const { port } = server.address() as { port: number };
  const answer = await new Promise<IncomingMessage>((done) =>
    request(
      {
        port,
        host: "127.0.0.1",
        path,
        headers: lastEventId === undefined ? {} : { "last-event-id": String(lastEventId) },
      },
      done,
    ).end(),
  );
  const told: (Told & { number: number | null })[] = [];
  // Outside check: read by another program's parser of event streams (WHATWG HTML, 9.2.6).
  const parser = createParser({
    onEvent: ({ id, data }) =>
      told.push({ ...(JSON.parse(data) as Told), number: id === undefined ? null : Number(id) }),
    onError: (error) => {
      throw error;
    },
  });
  answer.setEncoding("utf8").on("data", (part: string) => parser.feed(part));
  const close = () => {
    answer.destroy();
    server.close();
    server.closeAllConnections();
  };
  closing.push(close);
  return { status: answer.statusCode, told, close, ended: new Promise((done) => answer.once("close", done)) };
}

const bodies = (told: Told[]) => told.flatMap((t) => (t.kind === "comment" ? [t.comment?.body ?? null] : []));

describe("live events", () => {
  it("cross from one process to the pages of another, each told what it may see", async () => {
    const recording = await sharedRecording(one, orla);
    const ida = await new Browser(one, recording).as("Ida");
    const tom = await new Browser(two, recording).as("Tom");
    const sender = await new Browser(two, recording, orla).visit();
    await one.asks.set(recording.id, { kind: "nod", question: "", choices: [], due: null, zone: "UTC" });
    const after = await one.events.newest(recording.id);
    const toTom = await listen(two, `/w/${recording.token}/events?after=${after}`, tom.who);
    const toSender = await listen(two, `/w/${recording.token}/events?after=${after}`, sender.who);
    const id = await ida.say({ do: "comment", body: "Why?", at: 2 * S, until: null });
    const reaction = await ida.say({ do: "react", kind: "smile", at: S });
    await ida.say({ do: "answer", answer: { kind: "nod" } });
    await ida.say({ do: "edit", id, body: "Why here?", version: 1 });
    await ida.say({ do: "unreact", id: reaction });
    await expect.poll(() => bodies(toTom.told).at(-1)).toBe("Why here?");
    await expect.poll(() => toTom.told.some((t) => t.kind === "reaction" && t.reaction === null)).toBe(true);
    expect(toTom.told.some((t) => t.kind === "people")).toBe(false);
    await expect
      .poll(() => toSender.told.map((t) => t.kind))
      .toEqual(expect.arrayContaining(["comment", "people", "reaction", "watching"]));
    const numbers = toTom.told.map((t) => t.number).filter((n) => n !== null);
    expect(numbers).toEqual([...numbers].sort((a, b) => a - b));
    expect(new Set(numbers).size).toBe(numbers.length);
  });

  it("go on after a lost connection, with nothing missed and nothing twice", async () => {
    const recording = await sharedRecording(one, orla);
    const ida = await new Browser(one, recording).as("Ida");
    const tom = await new Browser(one, recording).as("Tom");
    const say = (body: string) => ida.say({ do: "comment", body, at: S, until: null });
    const first = await listen(one, `/w/${recording.token}/events`, tom.who, await one.events.newest(recording.id));
    await say("1");
    await expect.poll(() => bodies(first.told)).toEqual(["1"]);
    first.close();
    await say("2");
    await say("3");
    const second = await listen(
      two,
      `/w/${recording.token}/events`,
      tom.who,
      first.told.findLast((t) => t.number !== null)!.number!,
    );
    await expect.poll(() => bodies(second.told)).toEqual(["2", "3"]);
    await say("4");
    await expect.poll(() => bodies(second.told)).toEqual(["2", "3", "4"]);
  });

  it("of many who speak at once come to everybody, in order", async () => {
    const recording = await sharedRecording(one, orla);
    const people = await Promise.all(
      Array.from({ length: 6 }, (_, i) => new Browser(i % 2 ? one : two, recording).as(`P${i}`)),
    );
    const streams = await Promise.all(
      people.map((p, i) => listen(i % 2 ? two : one, `/w/${recording.token}/events?after=0`, p.who)),
    );
    await Promise.all(
      people.flatMap((p, i) =>
        Array.from({ length: 5 }, (_, n) => p.say({ do: "comment", body: `${i} ${n}`, at: S, until: null })),
      ),
    );
    for (const { told } of streams) await expect.poll(() => new Set(bodies(told)).size, { timeout: 10_000 }).toBe(30);
  });

  it("tell the sender how many others have the page open, over all processes, and nobody else", async () => {
    const recording = await sharedRecording(one, orla);
    const sender = await new Browser(one, recording, orla).visit();
    const [ida, tom] = [await new Browser(one, recording).visit(), await new Browser(two, recording).visit()];
    const path = `/w/${recording.token}/events?after=0`;
    const toSender = await listen(one, path, sender.who);
    const toIda = await listen(one, path, ida.who);
    const again = await listen(two, path, ida.who);
    const toTom = await listen(two, path, tom.who);
    const count = () => toSender.told.findLast((t) => t.kind === "watching")?.count;
    await expect.poll(count).toBe(2);
    toTom.close();
    await expect.poll(count).toBe(1);
    again.close();
    toIda.close();
    await expect.poll(count).toBe(0);
    expect(toIda.told.some((t) => t.kind === "watching")).toBe(false);
  });

  it("end when the recording may not be watched any more, and do not begin again", async () => {
    const recording = await sharedRecording(one, orla);
    const ida = await new Browser(one, recording).visit();
    const stream = await listen(two, `/w/${recording.token}/events?after=0`, ida.who);
    await one.sharing.change(orla, recording.id, { audience: "owner" });
    await stream.ended;
    expect((await listen(two, `/w/${recording.token}/events?after=0`, ida.who)).status).toBe(404);
  });

  it("end when somebody is shut out of the folder in which it lies", async () => {
    const wren = await newMember(one, "Wren Holt");
    const folder = await one.folders.make(orla, { name: "Roof", parentId: null });
    await one.folderPeople.add(orla, folder, { who: `Wren Holt <${wren.email}>`, may: "view" }, "198.51.100.7");
    const recording = await sharedRecording(one, orla);
    await one.folderContents.put(orla, { recordings: [recording.id], to: folder, open: false });
    await one.sharing.change(orla, recording.id, { audience: "folder" });
    const where = { folderId: folder, email: wren.email };
    const [row] = await one.db.models.FolderPerson.findAll({ where });
    await one.db.models.FolderPerson.update({ personId: wren.id }, { where });
    await one.folders.changed(folder);
    const browser = await new Browser(one, recording, wren).visit();
    const stream = await listen(two, `/w/${recording.token}/events?after=0`, browser.who);
    expect(stream.status).toBe(200);
    await one.folderPeople.remove(orla, folder, row!.id);
    const soon = new Promise((_, late) => setTimeout(() => late(new Error("it stayed open")), 3_000));
    await Promise.race([stream.ended, soon]);
  });

  it("refuse who has not opened the page, and numbers that are none", async () => {
    const recording = await sharedRecording(one, orla);
    expect((await listen(one, `/w/${recording.token}/events`, { member: null, guestKey: null })).status).toBe(403);
    const ida = await new Browser(one, recording).visit();
    expect((await listen(one, `/w/${recording.token}/events?after=-1`, ida.who)).status).toBe(400);
    expect((await listen(one, "/news", { member: null, guestKey: null })).status).toBe(401);
  });

  it("too much missed, the page is told to load anew", async () => {
    const recording = await sharedRecording(one, orla);
    const ida = await new Browser(one, recording).as("Ida");
    await one.db.rows(
      "insert into events (recording_id, kind) select $1, 'ask' from generate_series(1, 700) returning id",
      [recording.id],
    );
    const stream = await listen(one, `/w/${recording.token}/events?after=0`, ida.who);
    await expect.poll(() => stream.told.some((t) => t.kind === "again")).toBe(true);
    await ida.say({ do: "comment", body: "After", at: S, until: null });
    await expect.poll(() => bodies(stream.told)).toEqual(["After"]);
  });

  it("tell a member that there is news for them, and not for others", async () => {
    const stranger = await newMember(one, "Somebody Else");
    const recording = await sharedRecording(one, orla);
    const toOrla = await listen(two, "/news", { member: orla, guestKey: null });
    const toStranger = await listen(two, "/news", { member: stranger, guestKey: null });
    await (await new Browser(one, recording).as("Ida")).say({ do: "comment", body: "Hello", at: S, until: null });
    await expect.poll(() => toOrla.told.length).toBeGreaterThan(0);
    expect(toStranger.told).toEqual([]);
  });

  it("end when a session ends, and no others", async () => {
    const recording = await sharedRecording(one, orla);
    await new Browser(one, recording, orla).visit();
    const token = await one.sessions.start(orla.id);
    const path = `/w/${recording.token}/events?after=0`;
    const mine = await listen(two, path, { member: orla, guestKey: null, session: two.sessions.idOf(token) });
    const news = await listen(two, "/news", { member: orla, guestKey: null, session: two.sessions.idOf(token) });
    const other = await listen(two, path, { member: orla, guestKey: null, session: "another" });
    await one.sessions.end(token);
    await Promise.all([mine.ended, news.ended]);
    await new Browser(one, recording, orla).say({ do: "comment", body: "Still here", at: S, until: null });
    await expect.poll(() => bodies(other.told)).toEqual(["Still here"]);
  });

  it("do not stay open over a withdrawal that comes while they are being opened", async () => {
    const recording = await sharedRecording(one, orla);
    const ida = await new Browser(one, recording).visit();
    const viewer = (await ida.viewer())!;
    const res = { ...fakeResponse(), end: vi.fn() };
    await one.sharing.change(orla, recording.id, { audience: "owner" });
    const allowed = () => one.access.require(null, "watch", recording.token);
    await one.streams.open(
      recording.id,
      viewer,
      0,
      res as never,
      { person: null, session: null, address: "a" },
      allowed,
    );
    expect(res.end).toHaveBeenCalledOnce();
  });

  it("come back when notices may have been missed", async () => {
    const recording = await sharedRecording(one, orla);
    const ida = await new Browser(one, recording).visit();
    const stream = await listen(two, `/w/${recording.token}/events?after=0`, ida.who);
    await one.db.rows(
      `select pg_terminate_backend(pid) from pg_stat_activity
        where application_name = 'clear_nod' and datname = current_database()`,
    );
    await stream.ended;
    // Connected again: what is told from now on is heard.
    const again = await listen(two, `/w/${recording.token}/events?after=0`, ida.who);
    await ida.say({ do: "name", name: "Ida" });
    await ida.say({ do: "comment", body: "Heard", at: S, until: null });
    await expect.poll(() => bodies(again.told), { timeout: 10_000 }).toEqual(["Heard"]);
  });
});

/** A response whose other side reads nothing. */
function fakeResponse() {
  const listeners: Record<string, () => void> = {};
  const response = {
    writableLength: 0,
    written: 0,
    once: (name: string, listener: () => void) => (listeners[name] = listener),
    writeHead: () => undefined,
    write: (text: string) => {
      response.written++;
      response.writableLength += text.length;
    },
    end: () => undefined,
    destroy: vi.fn(),
    emit: (name: string) => listeners[name]!(),
  };
  return response;
}

describe("one connection", () => {
  it("is ended when its page does not read, and nothing is written after that", () => {
    const res = fakeResponse();
    const ended = vi.fn();
    const connection = new Connection(res as never, ended);
    for (let n = 0; n < 1_000; n++) connection.write("x".repeat(1_000));
    expect(res.destroy).toHaveBeenCalledOnce();
    expect(ended).toHaveBeenCalledOnce();
    expect(res.writableLength).toBeLessThan(70_000);
    const { written } = res;
    connection.end();
    connection.write("late");
    expect([res.written, ended.mock.calls.length]).toEqual([written, 1]);
  });

  it("that breaks is over at once", () => {
    const res = fakeResponse();
    const ended = vi.fn();
    const connection = new Connection(res as never, ended);
    res.emit("error");
    res.emit("close");
    connection.write("x");
    expect([connection.ended, ended.mock.calls.length, res.written]).toEqual([true, 1, 1]);
  });
});

describe("how many streams may be open", () => {
  it("is bounded for a viewer, a session, an address and the process, and places are given back", () => {
    const admission = new Admission({ viewer: 2, session: 3, address: 5, process: 7 });
    const enter = (viewer: string, session: string | null, address: string) =>
      admission.enter({ viewer, session, address });
    const leave = enter("a", "s", "1");
    enter("a", "s", "1");
    expect(() => enter("a", "s", "1")).toThrow(expect.objectContaining({ status: 429 }));
    enter("b", "s", "1");
    expect(() => enter("c", "s", "1")).toThrow(expect.objectContaining({ status: 429 }));
    enter("d", null, "1");
    enter("e", null, "1");
    expect(() => enter("f", null, "1")).toThrow(expect.objectContaining({ status: 429 }));
    leave();
    leave();
    enter("f", null, "1");
    enter("g", null, "2");
    enter("h", null, "3");
    expect(() => enter("i", null, "4")).toThrow(expect.objectContaining({ status: 503 }));
    expect(admission.count).toBe(7);
  });

  it("is enough for a class of 300 behind one address", () => {
    const admission = new Admission();
    for (let n = 0; n < 300; n++) {
      for (let tab = 0; tab < 3; tab++) admission.enter({ viewer: `v${n}`, session: `s${n}`, address: "1" });
    }
    expect(admission.count).toBe(900);
  });
});
