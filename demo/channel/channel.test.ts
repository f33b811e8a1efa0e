import { createServer, type RequestListener, type Server } from "node:http";
import { mkdtempSync, readdirSync, readFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { Readable } from "node:stream";
import { afterAll, afterEach, beforeAll, describe, expect, inject, it } from "vitest";
import { freePort } from "../../server/database/cluster";
import type { SignedIn } from "../../server/accounts/sessions";
import { FilmChannel } from "../../server/places/channel";
import type { Destination, FilmToSend, Sending } from "../../server/places/way";
import type { Runtime } from "../../server/runtime";
import { makeTrack } from "../../testing/media";
import { codeOf, feedTake, freshRuntime, newMember } from "../../testing/server";
import { channel, KEY } from "./channel";
import { Videos } from "./videos";

const servers: Server[] = [];
afterAll(async () => {
  for (const server of servers) {
    server.closeAllConnections();
    await new Promise((done) => server.close(done));
  }
});

async function listen(answer: (url: string) => RequestListener): Promise<string> {
  const port = await freePort();
  const url = `http://127.0.0.1:${port}`;
  const server = createServer(answer(url));
  await new Promise<void>((done) => server.listen(port, "127.0.0.1", done));
  servers.push(server);
  return url;
}

/** How many bytes each piece of an upload has brought to the channel. */
const pieces: number[] = [];
let url: string;
let dir: string;
let videos: Videos;
beforeAll(async () => {
  dir = mkdtempSync(join(tmpdir(), "channel-"));
  videos = await Videos.open(dir, 300);
  url = await listen((origin) => {
    const answer = channel(videos, origin, (error) => troubles.push(error));
    return (req, res) => {
      const before = req.socket.bytesRead;
      const isPiece = req.method === "PATCH" && req.url!.startsWith("/files/");
      if (isPiece) req.once("close", () => pieces.push(req.socket.bytesRead - before));
      answer(req, res);
    };
  });
});
const troubles: Error[] = [];
afterAll(async () => {
  await videos.close();
  expect(troubles).toEqual([]);
});
afterEach(async () => {
  for (const video of [...videos.all]) await videos.drop(video);
  pieces.splice(0);
});

const wrong = (what: string) =>
  fetch(`${url}/wrong`, { method: "POST", headers: { origin: url }, body: `what=${what}`, redirect: "manual" });
const page = async (path: string, within = false) => {
  const answer = await fetch(path, { headers: within ? { cookie: "guild=1" } : {} });
  return { status: answer.status, text: await answer.text() };
};

/** A film that is a film: tracks of tests are MP4 as well. */
const { init, segments } = makeTrack("numbered", 8);
const bytes = Buffer.concat([init, ...segments]);
const film: FilmToSend = {
  ...{ id: "f1", name: "Laps.mp4", type: "video/mp4", size: bytes.length },
  read: (from, end) => Promise.resolve(Readable.from([bytes.subarray(from, end)])),
};
const to = (address: string, secret = KEY): Destination => ({ address: new URL(`${address}/`), account: "", secret });
const PIECE = Math.ceil(bytes.length / 4);
const way = new FilmChannel(() => true, PIECE);
const sending = (more: Partial<Sending> = {}): Sending => ({
  about: { title: "Laps", description: "Nine at the gutter.", seenBy: "link" },
  ...{ remote: null, resume: null, onResume: () => undefined, onProgress: () => undefined },
  signal: AbortSignal.timeout(20_000),
  ...more,
});
const soon = () => AbortSignal.timeout(10_000);
const ready = (remote: string) =>
  expect.poll(async () => (await way.look(to(url), remote, soon())).state, { timeout: 10_000 }).not.toBe("processing");

// Outside check: what takes uploads at the stand-in is the server of tus's authors (@tus/server).
describe("a film that is brought to a channel", () => {
  it("is there whole, is worked on, and then watched at its link by whom it is for", async () => {
    const progress: number[] = [];
    const standing = await way.send(to(url), film, sending({ onProgress: (done) => progress.push(done) }));
    expect(standing).toEqual({ remote: expect.any(String) as string, link: null, state: "processing" });
    expect(progress.at(-1)).toBe(bytes.length);
    expect(pieces).toHaveLength(4);
    const { remote } = standing;
    await ready(remote);
    const { link } = await way.look(to(url), remote, soon());
    expect(link).toBe(`${url}/v/${remote}`);
    expect((await page(link!)).text).toContain("Nine at the gutter.");
    expect(Buffer.from(await (await fetch(`${link}/file`)).arrayBuffer()).equals(bytes)).toBe(true);
    expect((await page(url)).text).not.toContain("Laps");
    expect((await page(url, true)).text).toContain("Laps");

    const told = { title: "Laps <2>", description: "", seenBy: "everybody" } as const;
    await way.update(to(url), remote, told, soon());
    expect((await page(url)).text).toContain("Laps &#60;2&#62;");
    await way.update(to(url), remote, { ...told, seenBy: "people" }, soon());
    expect([(await page(link!)).status, (await page(link!, true)).status]).toEqual([404, 200]);
    await way.remove(to(url), remote, soon());
    expect((await page(link!, true)).status).toBe(404);
    expect(readdirSync(join(dir, "uploads"))).toEqual([]);
    // Twice is once.
    await way.remove(to(url), remote, soon());
    expect(await way.look(to(url), remote, soon())).toMatchObject({ state: "failed", link: null });
  });

  it("goes on where it was broken off", async () => {
    await wrong("break");
    let resume = "";
    const broken = way.send(to(url), film, sending({ onResume: (at) => (resume = at) }));
    await expect(broken).rejects.toMatchObject({ passes: true });
    expect(resume).toMatch(new RegExp(`^${url}/files/`));
    pieces.splice(0);
    const { remote } = await way.send(to(url), film, sending({ resume }));
    expect(pieces.reduce((sum, piece) => sum + piece, 0)).toBeLessThan(bytes.length);
    await ready(remote);
    expect(Buffer.from(await (await fetch(`${url}/v/${remote}/file`)).arrayBuffer()).equals(bytes)).toBe(true);
    // An answer that was lost: all of it is there already.
    pieces.splice(0);
    expect((await way.send(to(url), film, sending({ resume }))).remote).toBe(remote);
    expect(pieces).toEqual([]);
  });

  it("leaves nothing where it is given up in the middle", async () => {
    let resume = "";
    const stop = new AbortController();
    const given = sending({
      onResume: (at) => (resume = at),
      onProgress: (done) => done > 0 && stop.abort(new Error("left")),
      signal: stop.signal,
    });
    await expect(way.send(to(url), film, given)).rejects.toThrow("left");
    await way.giveUp(to(url), resume, soon());
    expect(readdirSync(join(dir, "uploads"))).toEqual([]);
    await way.giveUp(to(url), resume, soon());
    // What is given up after all of it has come, and before anybody was told, goes as well.
    await way.send(to(url), film, sending({ onResume: (at) => (resume = at) }));
    await way.giveUp(to(url), resume, soon());
    expect([videos.all, readdirSync(join(dir, "uploads"))]).toEqual([[], []]);
  });

  it("is replaced, its link stays; where that fails, what was there before still is", async () => {
    const { remote } = await way.send(to(url), film, sending());
    await ready(remote);
    await wrong("fail");
    const again = sending({ remote });
    expect(await way.send(to(url), film, again)).toMatchObject({
      remote,
      link: `${url}/v/${remote}`,
      state: "processing",
    });
    await ready(remote);
    expect(await way.look(to(url), remote, soon())).toEqual({
      ...{ remote, link: `${url}/v/${remote}`, state: "failed", problem: "This one fails on purpose. Try it again." },
    });
    expect((await page(`${url}/v/${remote}`)).status).toBe(200);
    await way.send(to(url), film, again);
    await ready(remote);
    expect(await way.look(to(url), remote, soon())).toEqual({ remote, link: `${url}/v/${remote}`, state: "there" });
    expect(videos.all).toHaveLength(1);
    expect(readdirSync(join(dir, "uploads"))).toHaveLength(2);
    // One that was taken away there comes anew.
    await way.remove(to(url), remote, soon());
    const anew = await way.send(to(url), film, again);
    expect(anew.remote).not.toBe(remote);
    await way.remove(to(url), anew.remote, soon());
  });

  it("is kept over a stop of the channel, and worked on after it", async () => {
    const { remote } = await way.send(to(url), film, sending());
    const reopened = await Videos.open(dir, 0);
    expect(reopened.all).toMatchObject([{ id: remote, state: "working", title: "Laps" }]);
    await expect.poll(() => reopened.find(remote)?.state).toBe("ready");
    await reopened.close();
    await ready(remote);
    await way.remove(to(url), remote, soon());
  });

  it.each([
    ["another key", () => way.send(to(url, "wrong"), film, sending()), /does not let us, with this key/],
    [
      "no film",
      () => way.send(to(url), { ...film, type: "text/html" }, sending()),
      /does not take the file: it answers 422/,
    ],
    [
      "a title of nothing",
      () => way.send(to(url), film, sending({ about: { title: " ", description: "", seenBy: "link" } })),
      /422/,
    ],
  ])("is refused: %s", async (_, send, words) => {
    await expect(send()).rejects.toThrow(words);
    expect(videos.all).toEqual([]);
  });

  it("is found to be none, where it is none", async () => {
    const none = { ...film, size: 9, read: () => Promise.resolve(Readable.from([Buffer.from("no film!!")])) };
    const { remote } = await way.send(to(url), none, sending());
    await ready(remote);
    expect(await way.look(to(url), remote, soon())).toMatchObject({ state: "failed", problem: "This is no film." });
    await way.remove(to(url), remote, soon());
  });
});

describe("a server that is no channel", () => {
  const asked = (answers: (url: string) => RequestListener) => listen(answers);

  it("that sends uploads to another one does not get them there, nor what opens the channel", async () => {
    const told: (string | undefined)[] = [];
    const other = await asked(() => (req, res) => {
      told.push(req.headers.authorization);
      res.writeHead(204, { "upload-offset": "1" }).end();
    });
    const trick = await asked(() => (_req, res) => void res.writeHead(201, { location: `${other}/files/x` }).end());
    await expect(way.send(to(trick), film, sending())).rejects.toThrow("The server sends us to another one.");
    expect(told).toEqual([]);
  });

  it.each([
    ["counts nothing", "0"],
    ["counts more than there is", "99999999"],
    ["says nothing of it", ""],
  ])("that %s is left", async (_, offset) => {
    let taken = 0;
    const stuck = await asked(() => (req, res) => {
      if (req.method === "POST") return void res.writeHead(201, { location: "/files/x" }).end();
      taken++;
      req.resume().once("end", () => res.writeHead(204, offset ? { "upload-offset": offset } : {}).end());
    });
    await expect(way.send(to(stuck), film, sending())).rejects.toThrow(/The server/);
    expect(taken).toBe(1);
  });

  it.each([
    [{ id: "../../secrets", state: "ready" }],
    [{ id: "x", state: "ready", link: "javascript:alert(1)" }],
    [{ id: "x", state: "gone" }],
    ["no JSON"],
  ])("whose answer is %j is not believed", async (said) => {
    const odd = await asked(
      () => (_req, res) => void res.writeHead(200).end(typeof said === "string" ? said : JSON.stringify(said)),
    );
    await expect(way.look(to(odd), "x", soon())).rejects.toThrow("The server does not answer as a channel does.");
  });
});

describe("a recording that is sent to a channel", () => {
  let runtime: Runtime;
  let orla: SignedIn;
  beforeAll(async () => {
    // Of the sample: so that a place on this computer can be asked.
    runtime = await freshRuntime(inject("databaseUrl"), { DEMO: "on" });
    orla = await newMember(runtime);
    const place = { kind: "channel", name: "Guild", address: `${url}/`, account: "", password: KEY } as const;
    await expect(runtime.places.add(orla, { ...place, password: "wrong" })).rejects.toThrow(/with this key/);
    await expect(runtime.places.add(orla, { ...place, address: `${url}/v/` })).rejects.toThrow(/no channel at this/);
    await runtime.places.add(orla, place);
  });
  afterAll(() => runtime.close());
  const row = async (id: string) => (await runtime.sendings.of(id))[0]!;
  const reaches = (id: string, what: object) =>
    expect.poll(() => row(id), { timeout: 30_000, interval: 100 }).toMatchObject(what);

  it("comes there over a break, is called there as it is here, and fails and goes as it is told", async () => {
    const { recordingId: id } = await feedTake(runtime, orla, "screen", { screen: "numbered", microphone: "chirp" }, 4);
    const { placeId } = await row(id);
    await wrong("break");
    await runtime.sendings.send(id, placeId!);
    await reaches(id, { state: "there", seenBy: "people", revision: 1, problem: null });
    const { id: sent, link } = await row(id);
    const film = await runtime.storage.get((await runtime.films.file(id)).key);
    expect((await page(link!)).status).toBe(404);
    const shown = await fetch(`${link}/file`, { headers: { cookie: "guild=1" } });
    expect(Buffer.from(await shown.arrayBuffer()).equals(film)).toBe(true);

    await runtime.sendings.seenBy(id, sent!, "link");
    await expect.poll(async () => (await page(link!)).status).toBe(200);
    await runtime.library.rename(orla, id, "The laps of a glass roof", 1);
    await expect.poll(async () => (await page(link!)).text).toContain("The laps of a glass roof");
    const { description, tags } = await runtime.library.details(id);
    const about = { description: "From the gutter up.", tags: [] };
    await runtime.library.describe(orla, id, about, { description, tags });
    await expect.poll(async () => (await page(link!)).text).toContain("From the gutter up.");

    // Sent once more, and it does not work: what was there stays, and says so.
    await wrong("fail");
    await runtime.sendings.send(id, placeId!, "everybody");
    await reaches(id, { state: "failed", link, revision: 1, problem: "This one fails on purpose. Try it again." });
    expect((await page(link!)).status).toBe(200);
    // Whom that is for is changed all the same, and why the last one is not there still stands.
    await runtime.sendings.seenBy(id, sent!, "people");
    await expect.poll(async () => (await page(link!)).status).toBe(404);
    await reaches(id, { state: "failed", problem: "This one fails on purpose. Try it again." });
    await runtime.sendings.send(id, placeId!, "everybody");
    await reaches(id, { state: "there", link, problem: null });
    expect((await page(url)).text).toContain("The laps of a glass roof");

    // Given up on its way, the one before stays; sent once more, it comes.
    await wrong("break");
    await runtime.sendings.send(id, placeId!, "everybody");
    await reaches(id, { state: "sending" });
    await runtime.sendings.takeAway(id, sent!);
    await reaches(id, { id: sent, state: "there", link, revision: 1 });
    expect((await page(link!)).status).toBe(200);
    const before = videos.all[0]!.shown;
    await runtime.sendings.send(id, placeId!, "everybody");
    await expect.poll(() => videos.all[0]!.shown, { timeout: 30_000 }).not.toBe(before);
    await reaches(id, { state: "there", link, problem: null });

    // Who is somebody else has no say in it.
    const other = await feedTake(runtime, await newMember(runtime), "voice", { microphone: "chirp" }, 1);
    expect(await codeOf(runtime.sendings.seenBy(other.recordingId, sent!, "people"))).toBe("not-found");
    expect(await codeOf(runtime.sendings.takeAway(other.recordingId, sent!))).toBe("not-found");

    await runtime.sendings.takeAway(id, sent!);
    await reaches(id, { state: null, id: null });
    expect((await page(link!, true)).status).toBe(404);
    expect(readFileSync(join(dir, "videos.json"), "utf8")).toBe("[]");
  }, 90_000);

  it("that is told in vain says so, stays there, and is told after the next start", async () => {
    const { recordingId: id } = await feedTake(runtime, orla, "voice", { microphone: "chirp" }, 2);
    const { placeId } = await row(id);
    await runtime.sendings.send(id, placeId!, "link");
    await reaches(id, { state: "there" });
    const video = videos.all[0]!;
    await videos.drop(video);
    await runtime.library.rename(orla, id, "Another", 1);
    await reaches(id, { state: "there", problem: expect.stringContaining("not there any more") as string });
    // It comes anew.
    await runtime.sendings.send(id, placeId!, "link");
    await reaches(id, { state: "there", problem: null });
    expect(videos.all).toMatchObject([{ title: "Another", type: "audio/mp4" }]);
    await runtime.db.rows("update sendings set told_version = 0 where id = $1 returning id", [(await row(id)).id]);
    await videos.change(videos.all[0]!, { title: "Old", description: "", seenBy: "link" });
    await runtime.sendings.goOn();
    await expect.poll(() => videos.all[0]!.title).toBe("Another");
  }, 60_000);
});
