import { randomUUID } from "node:crypto";
import * as HLS from "hls-parser";
import sharp from "sharp";
import { USUAL_ARRANGEMENT } from "#core/layout/layout";
import type { Mark } from "#core/layout/mark";
import { alone, sceneOf, type Scene } from "#core/layout/scene";
import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import { decodeComplaints, joinBytes, makeTrack, probePackets } from "../../testing/media";
import { colleagueOf, feed, feedTake, freshRuntime, newMember, serve, sha256 } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import { isBlank, makePoster } from "../jobs/make-poster";
import type { Runtime } from "../runtime";

const NEVER = new AbortController().signal;
let runtime: Runtime;
let server: Awaited<ReturnType<typeof serve>>;
let orla: SignedIn;
let take: Awaited<ReturnType<typeof feedTake>>;
const SECONDS = 7;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  const people = new Map([
    ["orla", orla],
    ["bram", await colleagueOf(runtime, orla)],
    ["else", await newMember(runtime, "Somebody Else")],
  ]);
  server = await serve(runtime, people);
  take = await feedTake(
    runtime,
    orla,
    "screen-camera",
    { screen: "screen", camera: "camera", microphone: "microphone" },
    SECONDS,
  );
});
afterAll(async () => {
  await server.close();
  await runtime.close();
});

const get = (path: string, person = "orla", headers: Record<string, string> = {}) =>
  fetch(`${server.base}/w/${take.token}/${path}`, { headers: { "x-person": person, ...headers } });
const text = async (path: string) => (await get(path)).text();

describe("playlists from the database", () => {
  it("lead to every frame that was sent, and nothing else", async () => {
    for (const [kind, what] of [
      ["screen", "screen"],
      ["camera", "camera"],
      ["microphone", "microphone"],
    ] as const) {
      const list = HLS.parse(await text(`r1/${kind}.m3u8`)) as HLS.types.MediaPlaylist;
      expect(list.endlist).toBe(true);
      const parts = await Promise.all(
        [list.segments[0]!.map!.uri!, ...list.segments.map((s) => s.uri)].map(
          async (uri) => new Uint8Array(await (await get(`r1/${uri}`)).arrayBuffer()),
        ),
      );
      // Outside check: ffprobe counts, ffmpeg decodes without a complaint.
      const made = makeTrack(what, SECONDS);
      expect(probePackets(joinBytes(...parts)).packets).toBe(
        probePackets(joinBytes(made.init, ...made.segments)).packets,
      );
      expect(decodeComplaints(joinBytes(...parts))).toBe("");
    }
  });

  it("name the screen with its sound, the camera alone, and a voice alone", async () => {
    const main = HLS.parse(await text("r1/main.m3u8")) as HLS.types.MasterPlaylist;
    expect(main.variants[0]).toMatchObject({ uri: "screen.m3u8", codecs: expect.stringMatching(/^avc1\..*,opus$/) });
    expect(main.variants[0]!.audio[0]!.uri).toBe("microphone.m3u8");
    const voice = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, 3);
    expect(await runtime.playback.playlist(voice.recordingId, 1, "main")).toContain('CODECS="opus"');
    expect((await runtime.playback.playable(voice.recordingId, voice.token))!.frame).toBeNull();
  });

  it("grow with the take, stop at a gap, and end when it is complete", async () => {
    const { init, segments } = makeTrack("screen", SECONDS);
    const live = await runtime.takes.start(orla, { source: "screen", title: "Growing", audience: "owner" });
    const list = async () =>
      HLS.parse(await runtime.playback.playlist(live.recordingId, 1, "screen")) as HLS.types.MediaPlaylist;
    const send = (n: number) =>
      runtime.ingest.putSegment(live.takeId, "screen", n, Buffer.from(segments[n - 1]!), sha256(segments[n - 1]!));
    await runtime.ingest.putInit(live.takeId, "screen", Buffer.from(init), sha256(init));
    expect(await runtime.playback.playable(live.recordingId, live.token)).toBeNull();
    await send(1);
    await send(3);
    expect((await list()).segments.map((s) => s.uri)).toEqual(["screen/1.m4s"]);
    await send(2);
    expect([(await list()).segments.length, (await list()).endlist]).toEqual([3, false]);
    await runtime.takes.finish(live.takeId, { expected: { screen: 3 } });
    expect([(await list()).segments.length, (await list()).endlist]).toEqual([3, true]);
  });
});

describe("what a page asks for while it grows", () => {
  it("changes with what is shown, and is what the page was loaded with", async () => {
    const screen = makeTrack("screen", SECONDS);
    const voice = makeTrack("microphone", SECONDS);
    const live = await runtime.takes.start(orla, { source: "screen", title: "Growing", audience: "owner" });
    const send = async (name: "screen" | "microphone", { init, segments }: typeof screen, n: number) => {
      await runtime.ingest.putInit(live.takeId, name, Buffer.from(init), sha256(init));
      const bytes = Buffer.from(segments[n - 1]!);
      await runtime.ingest.putSegment(live.takeId, name, n, bytes, sha256(bytes));
    };
    // What another process takes in is seen here within half a second.
    const growth = async () => {
      const of = await runtime.playback.playable(live.recordingId, live.token);
      await expect.poll(() => runtime.playback.growth(live.recordingId), { timeout: 2_000 }).toBe(of?.growth ?? "");
      return of?.growth ?? "";
    };
    const all = [await growth()];
    await send("screen", screen, 1);
    all.push(await growth());
    await send("screen", screen, 2);
    all.push(await growth());
    await send("microphone", voice, 1);
    all.push(await growth());
    await runtime.takes.note(live.takeId, { paused: true });
    all.push(await growth());
    await runtime.takes.finish(live.takeId, { expected: { screen: 2, microphone: 1 } });
    all.push(await growth());
    expect(all).toEqual([
      "",
      "1 recording  screen",
      "1 recording  screen",
      "1 recording  microphone screen",
      "1 recording paused microphone screen",
      "1 complete  microphone screen",
    ]);
  });

  it("is read once for all who ask at once, and anew when something has come in", async () => {
    const { init, segments } = makeTrack("screen", SECONDS);
    const live = await runtime.takes.start(orla, { source: "screen", title: "Growing", audience: "owner" });
    await runtime.ingest.putInit(live.takeId, "screen", Buffer.from(init), sha256(init));
    const send = (n: number) =>
      runtime.ingest.putSegment(live.takeId, "screen", n, Buffer.from(segments[n - 1]!), sha256(segments[n - 1]!));
    const list = () => runtime.playback.playlist(live.recordingId, 1, "screen");
    await send(1);
    await list();
    const rows = vi.spyOn(runtime.db, "rows");
    await Promise.all(Array.from({ length: 50 }, list));
    expect(rows).not.toHaveBeenCalled();
    rows.mockRestore();
    await send(2);
    expect(await list()).toContain("screen/2.m4s");
  });
});

describe("media bytes", () => {
  it("follow RFC 9110: entity tags and ranges", async () => {
    const whole = await get("r1/screen/1.m4s");
    const etag = whole.headers.get("etag")!;
    const bytes = Buffer.from(await whole.arrayBuffer());
    expect((await get("r1/screen/1.m4s", "orla", { "if-none-match": etag })).status).toBe(304);
    const part = await get("r1/screen/1.m4s", "orla", { range: "bytes=10-19" });
    expect([part.status, part.headers.get("content-range")]).toEqual([206, `bytes 10-19/${bytes.length}`]);
    expect(Buffer.from(await part.arrayBuffer())).toEqual(bytes.subarray(10, 20));
    expect((await get("r1/screen/1.m4s", "orla", { range: "bytes=99999999-" })).status).toBe(416);
  });

  it.each([
    "r2/screen/1.m4s",
    "r1/screen/99.m4s",
    "r1/screen/0.m4s",
    "r1/sound/1.m4s",
    "r1/screen/init.mp3",
    "r1/nothing.m3u8",
    "r1/__proto__/1.m4s",
  ])("are not at %s", async (path) => {
    expect((await get(path)).status).toBe(404);
  });
});

describe("who gets them", () => {
  const PATHS = ["r1/main.m3u8", "r1/screen.m3u8", "r1/screen/init.mp4", "r1/screen/1.m4s", "growth", "poster.jpg"];
  const statuses = async (person: string) => [
    ...new Set(await Promise.all(PATHS.map(async (p) => (await get(p, person)).status))),
  ];

  it("the owner alone, then everyone with the link, then nobody", async () => {
    await makePoster(runtime.db, runtime.storage, take.recordingId, NEVER);
    for (const person of ["bram", "else", "guest"]) expect(await statuses(person)).toEqual([404]);
    expect(await statuses("orla")).toEqual([200]);
    await runtime.sharing.change(orla, take.recordingId, { audience: "anyone" });
    for (const person of ["orla", "bram", "else", "guest"]) expect(await statuses(person)).toEqual([200]);
    await runtime.sharing.change(orla, take.recordingId, { audience: "owner" });
    for (const person of ["bram", "guest"]) expect(await statuses(person)).toEqual([404]);
    await runtime.sharing.change(orla, take.recordingId, { audience: "anyone" });
    await runtime.library.delete(orla, take.recordingId);
    for (const person of ["orla", "guest"]) expect(await statuses(person)).toEqual([404]);
    await runtime.library.restore(orla, take.recordingId);
    expect(await statuses("guest")).toEqual([200]);
  });
});

describe("what a scene hides", () => {
  /** What follows from the end of a take is done: what is arranged from now on came after it. */
  const settled = (takeId: string) =>
    vi.waitUntil(async () => (await runtime.db.models.Look.findOne({ where: { takeId } })) !== null, 20_000);
  const seconds = (list: HLS.types.MediaPlaylist) =>
    list.segments.map((s) => [Math.round(s.duration * 10) / 10, s.gap ?? false] as const);

  it("is withheld from whoever watches, segment by segment, and is there for its owner", async () => {
    const tracks = { screen: "screen", camera: "camera", microphone: "microphone" } as const;
    const both = await feedTake(runtime, orla, "screen-camera", tracks, SECONDS, "Hidden");
    await settled(both.takeId);
    await runtime.sharing.change(orla, both.recordingId, { audience: "anyone" });
    const scene = (atUs: number, body: Scene) =>
      runtime.db.models.Entry.create({
        id: randomUUID(),
        takeId: both.takeId,
        kind: "scene",
        atUs,
        version: 1,
        body: { ...body, fade: 0 },
      });
    const inset = sceneOf({ width: 640, height: 360 }, USUAL_ARRANGEMENT);
    await scene(0, alone("screen"));
    await scene(4_500_000, inset);
    const drawn = { tool: "text", colour: "ink", path: [0, 0, 0], text: "twelve", staysMs: null, clearedAt: null };
    await runtime.db.models.Entry.create({
      id: randomUUID(),
      takeId: both.takeId,
      kind: "mark",
      atUs: 2_000_000,
      version: 1,
      body: drawn as Mark,
    });
    const guest = (path: string) => fetch(`${server.base}/w/${both.token}/${path}`);
    const list = HLS.parse(await (await guest("r1/camera.m3u8")).text()) as HLS.types.MediaPlaylist;
    // Outside check: another reader of playlists finds the gaps, as long as the segments that they stand for.
    const camera = seconds(list);
    let end = 0;
    const hidden = camera.filter(([duration]) => (end += duration) <= 4.5);
    expect(hidden.length).toBeGreaterThan(1);
    expect(camera.map(([, gap]) => gap)).toEqual(camera.map((_, i) => i < hidden.length));
    const answers = await Promise.all(list.segments.map(async (s) => (await guest(`r1/${s.uri}`)).status));
    expect(answers).toEqual(camera.map(([, gap]) => (gap ? 404 : 200)));
    // By range and by another spelling it is not there either; what is seen all the time is whole.
    const ranged = await fetch(`${server.base}/w/${both.token}/r1/camera/1.m4s`, { headers: { range: "bytes=0-99" } });
    expect([ranged.status, (await guest("r1/camera/01.m4s")).status]).toEqual([404, 404]);
    expect(await (await guest("r1/screen.m3u8")).text()).not.toContain("EXT-X-GAP");
    const playable = (await runtime.playback.playable(both.recordingId, both.token))!;
    expect(playable.marks.map(({ mark }) => mark.text)).toEqual(["twelve"]);
    const spans = new Map(playable.layers.map((l) => [l.name, l.spans]));
    expect([spans.get("screen"), spans.get("camera")?.[0]?.from]).toEqual([undefined, 4_500_000]);
    expect(playable.preload.some((path) => path.endsWith("camera/1.m4s"))).toBe(false);
    expect(playable.preload.some((path) => path.endsWith("screen/1.m4s"))).toBe(true);
    await runtime.editing.recorded(both.recordingId);
    const own = await fetch(`${server.base}/recordings/${both.recordingId}/recorded/camera/1.m4s`, {
      headers: { "x-person": "orla" },
    });
    expect(own.status).toBe(200);

    // Arranged another way afterwards: the one is seen, and the other withheld.
    const { kept, revision } = await runtime.editing.stretches(both.recordingId);
    const [{ from, to }] = kept as [{ from: number; to: number }];
    const arranged = { ...USUAL_ARRANGEMENT, scene: "camera", shape: "arch", fade: 0 } as const;
    const dress = { scenes: { [from]: { from, to, arranged } } };
    await runtime.editing.ask(both.recordingId, { kept, dress, seen: revision });
    const next = async (name: string) =>
      seconds(HLS.parse(await (await guest(`r${revision + 1}/${name}.m3u8`)).text()) as HLS.types.MediaPlaylist);
    expect((await next("camera")).some(([, gap]) => gap)).toBe(false);
    // Of what is never seen there is no track at all.
    expect((await guest(`r${revision + 1}/screen.m3u8`)).status).toBe(404);
    expect((await guest(`r${revision + 1}/screen/1.m4s`)).status).toBe(404);
    const texts = async () =>
      (await runtime.playback.playable(both.recordingId, both.token))!.marks.map(({ mark }) => mark.text);
    expect(await texts()).toEqual([]);
    expect((await guest(`r${revision + 1}/camera/1.m4s`)).status).toBe(200);
  });

  it("is withheld to the very segment, whatever holes a track has and however near a scene begins to one", async () => {
    const tracks = { screen: "screen", camera: "camera", microphone: "microphone" } as const;
    const take = await feedTake(runtime, orla, "screen-camera", tracks, SECONDS, "Holes");
    await settled(take.takeId);
    await runtime.sharing.change(orla, take.recordingId, { audience: "anyone" });
    const { Entry, Track, Segment } = runtime.db.models;
    const track = (await Track.findOne({ where: { takeId: take.takeId, name: "camera" } }))!;
    // A camera that loses a picture now and then: each segment begins a little later than the one before has ended.
    for (const segment of await Segment.findAll({ where: { trackId: track.id } })) {
      const { number, startUs } = segment;
      const where = { trackId: track.id, number };
      await Segment.update({ startUs: startUs + 66_000 * (number - 1) }, { where });
    }
    const starts = (await Segment.findAll({ where: { trackId: track.id }, order: ["number"] })).map((s) => s.startUs);
    const scene = (atUs: number, body: Scene) =>
      Entry.create({
        id: randomUUID(),
        takeId: take.takeId,
        kind: "scene",
        atUs,
        version: 1,
        body: { ...body, fade: 0 },
      });
    const inset = sceneOf({ width: 640, height: 360 }, USUAL_ARRANGEMENT);
    await scene(0, inset);
    const id = randomUUID();
    await Entry.create({ id, takeId: take.takeId, kind: "scene", atUs: 1, version: 1, body: alone("screen") });
    const guest = (path: string) => fetch(`${server.base}/w/${take.token}/${path}`);
    for (const [n, by] of [1, 2].flatMap((n) => [-40_000, -500, 0, 500, 40_000].map((by) => [n, by] as const))) {
      await Entry.update({ atUs: starts[n]! + by }, { where: { id } });
      await runtime.events.within(take.recordingId, () =>
        Promise.resolve({ result: null, events: [{ kind: "revision", subject: null, senderOnly: false }] }),
      );
      await expect
        .poll(async () => {
          const list = HLS.parse(await (await guest("r1/camera.m3u8")).text()) as HLS.types.MediaPlaylist;
          return list.segments.map((s) => s.gap ?? false);
        })
        // The segment that ends before the scene begins is seen; the one that begins with it is not.
        .toEqual(starts.map((at) => at >= starts[n]! + by));
      const statuses = await Promise.all(starts.map(async (_, i) => (await guest(`r1/camera/${i + 1}.m4s`)).status));
      expect([n, by, statuses]).toEqual([n, by, starts.map((at) => (at >= starts[n]! + by ? 404 : 200))]);
    }
  });
});

describe("posters", () => {
  it("know a blank picture", async () => {
    const flat = (color: string) =>
      sharp({ create: { width: 320, height: 180, channels: 3, background: color } })
        .png()
        .toBuffer();
    expect(await isBlank(await flat("#000"))).toBe(true);
    expect(await isBlank(await flat("#F7F5EF"))).toBe(true);
    const drawn = await sharp(await flat("#fff"))
      .composite([
        { input: Buffer.from('<svg width="320" height="180"><text x="20" y="90" font-size="40">Panes</text></svg>') },
      ])
      .png()
      .toBuffer();
    expect(await isBlank(drawn)).toBe(false);
  });

  it("show the screen, with the camera in its arch at the lower right", async () => {
    const recording = await runtime.db.models.Recording.findByPk(take.recordingId);
    const poster = await runtime.storage.get(recording!.posterKey!);
    const { width, height } = await sharp(poster).metadata();
    expect([width, height]).toEqual([640, 360]);
    // By core/layout for 640 × 360: 121.6 wide, 139.84 high, 10.8 from the edges. Without the camera it would be
    // ffmpeg's testsrc2 there.
    const pixel = async (left: number, top: number, from: Buffer) => [
      ...(await sharp(from).extract({ left, top, width: 1, height: 1 }).removeAlpha().raw().toBuffer()),
    ];
    const plain = await feedTake(runtime, orla, "screen", { screen: "screen" }, SECONDS, "Plain");
    await makePoster(runtime.db, runtime.storage, plain.recordingId, NEVER);
    const bare = await runtime.storage.get((await runtime.db.models.Recording.findByPk(plain.recordingId))!.posterKey!);
    const differs = async (x: number, y: number) => {
      const [a, b] = [await pixel(x, y, poster), await pixel(x, y, bare)];
      return Math.max(...a.map((v, i) => Math.abs(v - b[i]!))) > 40;
    };
    expect(await differs(568, 300)).toBe(true);
    // Outside the arch's round top, and elsewhere, the screen is untouched.
    expect(await differs(511, 213)).toBe(false);
    expect(await differs(100, 100)).toBe(false);
  });

  it("show a voice by its waveform, when all of it is there", async () => {
    const voice = await feedTake(runtime, orla, "voice", { microphone: "microphone" }, SECONDS, "Voice");
    await makePoster(runtime.db, runtime.storage, voice.recordingId, NEVER);
    const { posterKey } = (await runtime.db.models.Recording.findByPk(voice.recordingId))!;
    const poster = await runtime.storage.get(posterKey!);
    const { width, height } = await sharp(poster).metadata();
    expect([width, height]).toEqual([960, 300]);
    // A tone of one loudness from end to end: as high everywhere, with the middle filled and the edges free.
    const bright = async (left: number, top: number) => {
      const part = await sharp(poster).extract({ left, top, width: 20, height: 4 }).greyscale().raw().toBuffer();
      return Math.max(...part) > 100;
    };
    for (const x of [20, 480, 920]) expect([await bright(x, 148), await bright(x, 0)]).toEqual([true, false]);
  });

  it("show what is seen at their moment: screen and camera beside each other, on the player's ground", async () => {
    const tracks = { screen: "screen", camera: "camera" } as const;
    // The scene is there before the take is whole: then its poster is made by a job as well.
    const both = await runtime.takes.start(orla, { source: "screen-camera", title: "Beside", audience: "owner" });
    const body = {
      ...sceneOf({ width: 640, height: 360 }, { scene: "beside", place: "right", size: "medium" }),
      fade: 0,
    };
    const entry = { id: randomUUID(), takeId: both.takeId, kind: "scene" as const, atUs: 0, version: 1, body };
    await runtime.db.models.Entry.create(entry);
    await feed(runtime, both.takeId, tracks, SECONDS);
    await makePoster(runtime.db, runtime.storage, both.recordingId, NEVER);
    const { posterKey } = (await runtime.db.models.Recording.findByPk(both.recordingId))!;
    const poster = sharp(await runtime.storage.get(posterKey!));
    const spread = async (left: number, top: number, width: number, height: number) => {
      const part = await poster.clone().extract({ left, top, width, height }).png().toBuffer();
      return Math.max(...(await sharp(part).stats()).channels.map((c) => c.stdev));
    };
    // By core/layout: 140.8 wide at the right, 10.8 from the edges; the screen, scaled to 0.73, is 262 high in 360.
    expect(await spread(0, 0, 640, 40)).toBeLessThan(3);
    expect(await spread(20, 60, 440, 240)).toBeGreaterThan(20);
    expect(await spread(520, 140, 80, 80)).toBeGreaterThan(20);
    expect(await spread(479, 60, 7, 240)).toBeLessThan(6);
  });
});
