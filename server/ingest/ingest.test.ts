import { startOfTake } from "#core/recipe/source-line";
import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import { readdirSync, statSync } from "node:fs";
import { join } from "node:path";
import { makeTrack } from "../../testing/media";
import { contentDigest, freshRuntime, newMember, serve } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import type { StartedTake } from "../recordings/takes";
import type { Runtime } from "../runtime";

let runtime: Runtime;
let server: Awaited<ReturnType<typeof serve>>;
let orla: SignedIn;
let other: SignedIn;
const { init, segments } = makeTrack("screen", 7);

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  other = await newMember(runtime, "Somebody Else");
  server = await serve(
    runtime,
    new Map([
      ["orla", orla],
      ["other", other],
    ]),
  );
});
afterAll(async () => {
  await server.close();
  await runtime.close();
});

/** The first segment, said to begin at so many ticks. */
function startingAt(ticks: number): Buffer {
  const copy = Buffer.from(segments[0]!);
  copy.writeBigUInt64BE(BigInt(ticks), copy.indexOf("tfdt") + 8);
  return copy;
}

const start = () => runtime.takes.start(orla, { source: "screen", title: "Pane schedule", audience: "owner" });
async function put(
  take: StartedTake,
  path: string,
  body: Uint8Array | string,
  more: { person?: string; digest?: string; method?: string } = {},
) {
  const bytes = typeof body === "string" ? Buffer.from(body) : body;
  const answer = await fetch(`${server.base}/ingest/${take.takeId}/${path}`, {
    method: more.method ?? "PUT",
    body: bytes as BodyInit,
    headers: { "x-person": more.person ?? "orla", "content-digest": more.digest ?? contentDigest(bytes) },
  });
  return {
    status: answer.status,
    ...((await answer.json()) as {
      error?: string;
      result?: string;
      state?: string;
      missing?: number;
      stored?: unknown;
    }),
  };
}
const rows = async (take: StartedTake) =>
  (
    await runtime.db.rows<{ n: number }>(
      "select count(*)::int as n from segments s join tracks k on k.id = s.track_id where k.take_id = $1",
      [take.takeId],
    )
  )[0]!.n;
const files = (take: StartedTake) => {
  const root = runtime.settings.storageUrl.replace("file:", "");
  try {
    return readdirSync(join(root, "takes", take.takeId), { recursive: true }).filter((f) =>
      /\.m(4s|p4)$/.test(String(f)),
    ).length;
  } catch {
    return 0;
  }
};

describe("segments coming in", () => {
  it("are taken once, and acknowledged again when they come again", async () => {
    const take = await start();
    expect(await put(take, "screen/init", init)).toMatchObject({ status: 201, result: "created" });
    expect(await put(take, "screen/init", init)).toMatchObject({ status: 200, result: "known" });
    expect(await put(take, "screen/1", segments[0]!)).toMatchObject({ status: 201 });
    expect(await put(take, "screen/1", segments[0]!)).toMatchObject({ status: 200, result: "known" });
    expect(await put(take, "screen/1", segments[1]!)).toMatchObject({ status: 409, error: "other-bytes" });
    expect([await rows(take), files(take)]).toEqual([1, 2]);
  });

  it("close the take when the last announced one is in, in whatever order", async () => {
    const take = await start();
    await put(take, "screen/init", init);
    await put(take, "screen/3", segments[2]!);
    expect(await put(take, "finish", JSON.stringify({ expected: { screen: 3 } }))).toMatchObject({
      state: "uploading",
      missing: 2,
    });
    await Promise.all([put(take, "screen/1", segments[0]!), put(take, "screen/2", segments[1]!)]);
    expect(await put(take, "finish", JSON.stringify({ expected: { screen: 3 } }))).toMatchObject({
      state: "complete",
      missing: 0,
    });
    const [recording] = await runtime.db.rows<{ us: number }>(
      "select duration_us as us from recordings where id = $1",
      [take.recordingId],
    );
    expect(recording!.us).toBe(6_000_000);
    expect(await put(take, "screen/4", segments[3]!)).toMatchObject({ status: 409, error: "take-closed" });
    expect(await put(take, "screen/2", segments[1]!)).toMatchObject({ status: 200, result: "known" });
    expect(files(take)).toBe(4);
  });

  it("under a storm of the same segment are stored once", async () => {
    const take = await start();
    await put(take, "screen/init", init);
    const answers = await Promise.all(Array.from({ length: 20 }, () => put(take, "screen/1", segments[0]!)));
    expect(answers.filter((a) => a.status === 201)).toHaveLength(1);
    expect(answers.every((a) => a.status === 200 || a.status === 201)).toBe(true);
    expect([await rows(take), files(take)]).toEqual([1, 2]);
  });

  it("tell a recorder that comes back what is here", async () => {
    const take = await start();
    await put(take, "screen/init", init);
    await put(take, "screen/2", segments[1]!);
    const answer = await fetch(`${server.base}/ingest/${take.takeId}`, { headers: { "x-person": "orla" } });
    expect(await answer.json()).toMatchObject({ state: "recording", stored: { screen: [2] } });
  });
});

describe("what is refused, with nothing stored", () => {
  it.each([
    ["a wrong digest", "screen/1", segments[0]!, { digest: contentDigest(Buffer.from("x")) }, 422, "wrong-digest"],
    ["no digest", "screen/1", segments[0]!, { digest: "md5=:abc:" }, 400, "no-digest"],
    ["an unknown track", "hologram/1", segments[0]!, {}, 404, "unknown-track"],
    ["a segment number 0", "screen/0", segments[0]!, {}, 404, "not-found"],
    ["a number in another way of writing", "screen/1e3", segments[0]!, {}, 404, "not-found"],
    ["a number with a point", "screen/1.0", segments[0]!, {}, 404, "not-found"],
    ["a number beyond any take", "screen/50001", segments[0]!, {}, 404, "not-found"],
    ["a start beyond a day", "screen/1", startingAt(15_360 * 86_400), {}, 422, "not-a-segment"],
    ["a start that no database keeps", "screen/1", startingAt(Number.MAX_SAFE_INTEGER), {}, 422, "not-a-segment"],
    ["no segment at all", "screen/1", "hello", {}, 422, "not-a-segment"],
    ["an empty body", "screen/1", "", {}, 422, "not-a-segment"],
    ["two segments in one", "screen/1", Buffer.concat([segments[0]!, segments[1]!]), {}, 422, "not-a-segment"],
    ["a segment of another track", "screen/1", makeTrack("microphone", 3).segments[0]!, {}, 422, "not-a-segment"],
    ["a segment before its init", "camera/1", segments[0]!, {}, 409, "no-init"],
    ["a sound as a picture", "camera/init", makeTrack("microphone", 3).init, {}, 422, "wrong-kind"],
    ["a codec that is not taken", "microphone/init", makeTrack("mp3", 1).init, {}, 422, "not-a-segment"],
    ["somebody else's take", "screen/1", segments[0]!, { person: "other" }, 404, "no-such-take"],
    ["a guest", "screen/1", segments[0]!, { person: "nobody" }, 401, "signed-out"],
    ["another method", "screen/1", segments[0]!, { method: "POST" }, 405, "wrong-method"],
    ["an end that is not JSON", "finish", "{", {}, 400, "not-json"],
    ["an end with a made-up track", "finish", JSON.stringify({ expected: { hologram: 1 } }), {}, 422, "not-valid"],
    [
      "a layout that runs backwards",
      "note",
      JSON.stringify({
        paused: false,
        layout: [5, 3].map((at) => ({ at, corner: "top-left", size: "small", shown: true })),
      }),
      {},
      422,
      "not-valid",
    ],
  ] as const)("%s", async (_, path, body, more, status, error) => {
    const take = await start();
    await put(take, "screen/init", init);
    expect(await put(take, path, body, more)).toMatchObject({ status, error });
    expect([await rows(take), files(take)]).toEqual([0, 1]);
  });

  it("more than 16 MiB, announced or not", async () => {
    const take = await start();
    await put(take, "screen/init", init);
    const large = Buffer.alloc(16 * 1024 * 1024 + 1);
    const digest = contentDigest(large);
    const send = (body: BodyInit, more: object = {}) =>
      fetch(`${server.base}/ingest/${take.takeId}/screen/1`, {
        method: "PUT",
        body,
        headers: { "x-person": "orla", "content-digest": digest },
        ...more,
      }).then(
        (a) => a.status,
        () => 413,
      );
    expect(await send(large)).toBe(413);
    const stream = new ReadableStream({ start: (c) => (c.enqueue(large), c.close()) });
    expect(await send(stream, { duplex: "half" })).toBe(413);
    expect(await rows(take)).toBe(0);
  });

  it("a take that was never started", async () => {
    expect(
      await put({ takeId: "6ff2f1c4-0000-4000-8000-000000000000" } as StartedTake, "screen/1", segments[0]!),
    ).toMatchObject({ status: 404, error: "no-such-take" });
    expect(await put({ takeId: "../../etc" } as StartedTake, "screen/1", segments[0]!)).toMatchObject({ status: 404 });
  });
});

describe("tracks by name", () => {
  it("are taken several of a kind, and told apart", async () => {
    const take = await start();
    for (const name of ["screen", "camera", "camera-2"]) {
      expect(await put(take, `${name}/init`, init)).toMatchObject({ status: 201 });
      expect(await put(take, `${name}/1`, segments[0]!)).toMatchObject({ status: 201 });
    }
    expect(await runtime.takes.stored(take.takeId)).toEqual({ screen: [1], camera: [1], "camera-2": [1] });
    const expected = { screen: 1, camera: 1, "camera-2": 2 };
    expect(await put(take, "finish", JSON.stringify({ expected }))).toMatchObject({ state: "uploading", missing: 1 });
    expect(await put(take, "camera-2/2", segments[1]!)).toMatchObject({ status: 201 });
    expect((await runtime.takes.state(take.takeId)).state).toBe("complete");
    expect((await runtime.playback.file(take.recordingId, 1, "camera-2", "2.m4s")).key).toContain("/camera-2/2-");
  });

  it.each(["camera-1", "camera-5", "camera-02", "hologram", "camera-2-2"])("are not called %s", async (name) => {
    expect(await put(await start(), `${name}/init`, init)).toMatchObject({ status: 404, error: "unknown-track" });
  });
});

describe("what happened in a take", () => {
  const id = (n: number) => `00000000-0000-4000-8000-00000000000${n}`;
  const layers = [{ track: "screen", rect: { x: 0, y: 0, width: 1, height: 1 }, shape: "rectangle" }];
  const scene = (n: number, at: number, version = 1, body: object | null = { layers }) => ({
    id: id(n),
    version,
    kind: "scene",
    at,
    body,
  });
  const tell = (take: StartedTake, ...entries: object[]) => put(take, "entries", JSON.stringify({ entries }));
  const known = async ({ takeId }: StartedTake) =>
    (
      await runtime.db.rows<{ id: string; version: number; at: number; gone: boolean }>(
        "select id, version, at_us as at, body is null as gone from entries where take_id = $1 order by id",
        [takeId],
      )
    ).map((e) => [Number(e.id.at(-1)), e.version, e.at, e.gone]);

  it("is kept by its newest version, however often and in whatever order it comes", async () => {
    const take = await start();
    await Promise.all([tell(take, scene(1, 5), scene(2, 7)), tell(take, scene(1, 6, 3)), tell(take, scene(1, 4, 2))]);
    expect(await known(take)).toEqual([
      [1, 3, 6, false],
      [2, 1, 7, false],
    ]);
    await tell(take, scene(2, 7, 2, null));
    await tell(take, scene(2, 9));
    expect((await known(take))[1]).toEqual([2, 2, 7, true]);
  });

  it("is shown where it happened, without what was taken back", async () => {
    const take = await start();
    await put(take, "screen/init", init);
    await put(take, "screen/1", segments[0]!);
    await tell(take, scene(1, 1_000_000, 1, { layers: [] }), scene(2, 1_500_000));
    await tell(take, scene(2, 1_500_000, 2, null));
    const { scenes } = (await runtime.playback.playable(take.recordingId, take.token))!;
    expect(scenes.map((s) => [s.at, s.layers.length])).toEqual([
      [0, 1],
      [1_000_000, 0],
    ]);
  });

  const mark = (n: number, change: object = {}) => ({
    id: `00000000-0000-4000-8000-${String(n).padStart(12, "0")}`,
    version: 1,
    kind: "mark",
    at: 500_000,
    body: {
      tool: "pen",
      colour: "clay",
      path: [0, 0, 0, 1, 1, 40],
      text: "",
      staysMs: 3_000,
      clearedAt: null,
      ...change,
    },
  });

  it("is shown as it was drawn, from one question to the database, and as much of it as a page can carry", async () => {
    const take = await start();
    await put(take, "screen/init", init);
    await put(take, "screen/1", segments[0]!);
    await tell(take, mark(1), mark(2, { tool: "text", text: "<b>Ridge</b>", staysMs: null }), scene(3, 1_000_000));
    const { marks, scenes } = (await runtime.playback.playable(take.recordingId, take.token))!;
    expect(scenes).toHaveLength(2);
    expect(marks.map((m) => [m.from, m.to, m.mark.text])).toEqual([
      [500_000, 3_540_000, ""],
      [500_000, startOfTake(2), "<b>Ridge</b>"],
    ]);
    for (let n = 0; n < 3; n++) await tell(take, ...Array.from({ length: 166 }, (_, i) => mark(10 + 166 * n + i)));
    expect(await tell(take, mark(900))).toMatchObject({ status: 422, error: "too-many-marks" });
    // One that is there may still be changed.
    expect(await tell(take, { ...mark(1), version: 2, body: null })).toMatchObject({ status: 200 });
  });

  it.each([
    ["without a point", { path: [] }],
    ["half a point", { path: [0, 0, 0, 1] }],
    ["outside the picture", { path: [0, 1.1, 0] }],
    ["back in time", { path: [0, 0, 0, 1, 1, 50, 1, 0, 40] }],
    ["not from its beginning", { path: [0, 0, 5] }],
    ["too long", { path: Array.from({ length: 603 }, (_, i) => (i % 3 === 2 ? i : 0)) }],
    ["in a made-up colour", { colour: "#fff" }],
    ["with a made-up tool", { tool: "hologram" }],
    ["with too many words", { text: "x".repeat(81) }],
    ["with more than it should have", { script: "1" }],
    ["for ever and a day", { staysMs: 1e12 }],
    ["without an end", { clearedAt: undefined }],
  ])("is no mark: %s", async (_, change) => {
    const take = await start();
    expect(await tell(take, mark(1, change))).toMatchObject({ status: 422, error: "not-valid" });
    expect(await known(take)).toEqual([]);
  });

  it("is refused of a closed take, and when it is too much or not what it should be", async () => {
    const take = await start();
    const wrong: object[] = [
      { ...scene(1, 5), at: -1 },
      { ...scene(1, 5), at: 25 * 3600e6 },
      { ...scene(1, 5), version: 0 },
      { ...scene(1, 5), kind: "hologram" },
      { ...scene(1, 5), body: undefined },
      scene(1, 5, 1, { layers: [{ ...layers[0], track: "__proto__" }] }),
      scene(1, 5, 1, { layers: [{ ...layers[0], rect: { x: 0, y: 0, width: 2, height: 1 } }] }),
      scene(1, 5, 1, { layers: Array(9).fill(layers[0]) }),
    ];
    for (const entry of wrong) expect(await tell(take, entry)).toMatchObject({ status: 422 });
    expect(await tell(take, scene(1, 5), scene(1, 6))).toMatchObject({ status: 422 });
    const many = (from: number) =>
      Array.from({ length: 200 }, (_, i) => ({ ...scene(1, i), id: crypto.randomUUID(), version: from }));
    for (let n = 1; n <= 25; n++) expect(await tell(take, ...many(n))).toMatchObject({ status: 200 });
    expect(await tell(take, scene(1, 5))).toMatchObject({ status: 422, error: "too-many-entries" });
    expect((await known(take)).length).toBe(5_000);
    await runtime.takes.finish(take.takeId, { expected: {} });
    expect(await tell(take, scene(1, 5))).toMatchObject({ status: 409 });
    expect(await put(take, "entries", JSON.stringify({ entries: [] }), { person: "other" })).toMatchObject({
      status: 404,
    });
  });
});

describe("trying the connection", () => {
  const trial = (bytes: number, person = "orla", method = "PUT") =>
    fetch(`${server.base}/ingest/trial`, {
      method,
      headers: { "x-person": person },
      ...(method === "PUT" && { body: new Uint8Array(bytes) }),
    });

  it("takes what is sent, keeps nothing, and is bounded in size, in number and to members", async () => {
    const answer = await trial(512 * 1024);
    expect([answer.status, await answer.json()]).toEqual([200, { bytes: 512 * 1024 }]);
    expect((await trial(1024 * 1024 + 1)).status).toBe(413);
    expect((await trial(1, "nobody")).status).toBe(401);
    expect((await trial(0, "orla", "GET")).status).toBe(405);
    const many = await Promise.all(Array.from({ length: 12 }, () => trial(10)));
    expect(many.map((a) => a.status)).toContain(429);
    // Another member's tries are their own.
    expect((await trial(10, "other")).status).toBe(200);
    // Jobs of other takes put files there meanwhile; none is one that was sent.
    const media = join(runtime.settings.dataDir, "media");
    const sizes = readdirSync(media, { recursive: true }).map((name) => statSync(join(media, String(name))).size);
    expect(sizes).not.toContain(512 * 1024);
    expect(sizes).not.toContain(10);
  });
});

describe("throwing away", () => {
  it("leaves no trace of a take of which nothing arrived, and keeps the others among the deleted", async () => {
    const empty = await start();
    await runtime.takes.discard(empty.takeId);
    expect(await runtime.access.byId(empty.recordingId)).toBeNull();
    const some = await start();
    await put(some, "screen/init", init);
    await put(some, "screen/1", segments[0]!);
    await runtime.takes.discard(some.takeId);
    expect(await runtime.access.byId(some.recordingId)).toMatchObject({ deletedAt: expect.any(Number) });
    expect(await put(some, "screen/2", segments[1]!)).toMatchObject({ status: 404 });
  });
});

describe("a take is whole", () => {
  const finish = (take: StartedTake, expected: object) => put(take, "finish", JSON.stringify({ expected }));

  it("when every announced segment is in: others do not fill a hole", async () => {
    const take = await start();
    await put(take, "screen/init", init);
    // Segment 2 of two is missing; a third one, beyond what will be announced, is there.
    await put(take, "screen/1", segments[0]!);
    await put(take, "screen/3", segments[2]!);
    expect(await finish(take, { screen: 2 })).toMatchObject({ state: "uploading", missing: 1 });
    expect(await put(take, "screen/2", segments[1]!)).toMatchObject({ status: 201 });
    expect(await finish(take, { screen: 2 })).toMatchObject({ state: "complete", missing: 0 });
    // What is beyond the end is dropped with its file.
    expect(await rows(take)).toBe(2);
    await vi.waitUntil(() => files(take) === 3, 10_000);
  });

  it("in the other order too: the end first, then what is beyond it", async () => {
    const take = await start();
    await put(take, "screen/init", init);
    await put(take, "screen/1", segments[0]!);
    expect(await finish(take, { screen: 2 })).toMatchObject({ state: "uploading", missing: 1 });
    expect(await put(take, "screen/3", segments[2]!)).toMatchObject({ status: 409, error: "beyond-the-end" });
    expect(await put(take, "screen/2", segments[1]!)).toMatchObject({ status: 201 });
    expect((await runtime.takes.state(take.takeId)).state).toBe("complete");
  });

  it("with its true length, whatever order its segments came in", async () => {
    const take = await start();
    await put(take, "screen/init", init);
    for (const n of [3, 1, 2]) await put(take, `screen/${n}`, segments[n - 1]!);
    await finish(take, { screen: 3 });
    const [row] = await runtime.db.rows<{ us: number }>("select duration_us as us from recordings where id = $1", [
      take.recordingId,
    ]);
    expect(row!.us).toBeCloseTo(6_000_000, -5);
  });
});
