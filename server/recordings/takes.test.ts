import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { NOTHING_ASKED } from "#core/answers/kinds";
import { startOfTake } from "#core/recipe/source-line";
import { Browser } from "../../testing/answers";
import { decodeComplaints, makeTrack, packetTimes } from "../../testing/media";
import { codeOf, databaseUrlOf, feed, feedTake, freshRuntime, newMember, serve, sha256 } from "../../testing/server";
import { sharedRecording, watching } from "../../testing/shared";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import { openRuntime, type Runtime } from "../runtime";
import type { Given } from "./takes";

const S = 1_000_000;
const TRACKS = { screen: "screen", camera: "camera", microphone: "aac" } as const;
const [FIRST, SECOND_TAKE] = [6, 4];
const LISTED = { q: "", sort: "newest", show: "kept", group: null, after: null } as const;

let runtime: Runtime;
let server: Awaited<ReturnType<typeof serve>>;
let orla: SignedIn;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  server = await serve(runtime, new Map([["orla", orla]]));
});
afterAll(async () => {
  await server.close();
  await runtime.close();
});

const recorded = () => sharedRecording(runtime, orla, "screen-camera", TRACKS, FIRST);
async function withAnother(recording: KnownRecording) {
  const take = await runtime.takes.another(recording.id, "screen-camera");
  await feed(runtime, take.takeId, TRACKS, SECOND_TAKE);
  return take;
}
const { get, bytesOf, playlist, played } = watching(() => server.base);
const status = async (recording: KnownRecording, path: string) => (await get(recording, path)).status;

describe("another take", () => {
  it("is shown after the first: the same bytes at later times, on one time line", async () => {
    const recording = await recorded();
    await withAnother(recording);
    const playable = (await runtime.playback.playable(recording.id, recording.token))!;
    expect(playable).toMatchObject({ revision: 2, state: "complete" });
    // The sound of a take is up to a packet and its encoder's delay longer than its picture.
    expect(playable.durationUs / S - FIRST - SECOND_TAKE).toBeLessThan(0.1);
    for (const track of ["screen", "camera"] as const) {
      const { file } = await played(recording, `r2/${track}.m3u8`);
      const times = packetTimes(file).sort((a, b) => a - b);
      expect(times).toHaveLength((FIRST + SECOND_TAKE) * 15);
      // Every picture on the grid of 1/30 s; the first take's last one is held for one of these, while its sound ends.
      times.forEach((t, i) => expect(t - times[0]!).toBeCloseTo(i / 15 + (i < FIRST * 15 ? 0 : 1 / 30), 3));
      expect(decodeComplaints(file)).toBe("");
    }
    const sound = packetTimes((await played(recording, "r2/microphone.m3u8")).file);
    const packet = 1024 / 48_000;
    // One unbroken grid of packets: the join is where it should be to half a packet, and leaves out at most one.
    for (const t of sound) {
      const place = (t - sound[0]!) / packet;
      expect(Math.abs(place - Math.round(place))).toBeLessThan(0.01);
    }
    const steps = sound.slice(1).map((t, i) => (t - sound[i]!) / packet);
    expect(Math.max(...steps)).toBeLessThan(4);
    expect(steps.filter((step) => step > 1.5).length).toBeLessThanOrEqual(1);
    const list = await playlist(recording, "r2/screen.m3u8");
    expect(list.segments.map((s) => s.uri)).toEqual(list.segments.map((_, i) => `screen/${i + 1}.m4s`));
    expect(new Set(list.segments.map((s) => s.map!.uri))).toEqual(new Set(["screen/init.mp4", "screen/init-2.mp4"]));
    const sum = list.segments.reduce((all, s) => all + s.duration, 0);
    expect(Math.abs(sum - FIRST - SECOND_TAKE)).toBeLessThan(0.1);
    expect(list.endlist).toBe(true);
    expect(await status(recording, `r2/screen/${list.segments.length + 1}.m4s`)).toBe(404);
    expect(await status(recording, "r2/screen/init-3.mp4")).toBe(404);
  });

  it("grows where the first one ended, and what was shown before is gone at once, in every process", async () => {
    const recording = await recorded();
    const second = await openRuntime(runtime.settings, databaseUrlOf(runtime));
    const elsewhere = await serve(second, new Map());
    const there = watching(() => elsewhere.base);
    try {
      const old = ["r1/main.m3u8", "r1/screen.m3u8", "r1/screen/init.mp4", "r1/screen/1.m4s"];
      for (const path of old) expect((await there.get(recording, path)).status).toBe(200);
      const take = await runtime.takes.another(recording.id, "screen-camera");
      for (const path of old) await expect.poll(() => status(recording, path)).toBe(404);
      await expect.poll(async () => (await there.get(recording, old[3]!)).status).toBe(404);
      const before = await playlist(recording, "r2/screen.m3u8");
      expect([before.endlist, before.segments.length > 2]).toEqual([false, true]);
      const { init, segments } = makeTrack("screen", SECOND_TAKE);
      await runtime.ingest.putInit(take.takeId, "screen", Buffer.from(init), sha256(init));
      const put = (n: number) =>
        runtime.ingest.putSegment(take.takeId, "screen", n, Buffer.from(segments[n - 1]!), sha256(segments[n - 1]!));
      // The second one first: it cannot be shown before the one that tells where they stand.
      await put(2);
      const next = before.segments.length + 1;
      await expect.poll(async () => (await playlist(recording, "r2/screen.m3u8")).segments.length).toBe(next - 1);
      expect(await status(recording, `r2/screen/${next + 1}.m4s`)).toBe(404);
      await put(1);
      await expect.poll(async () => (await playlist(recording, "r2/screen.m3u8")).segments.length).toBe(next + 1);
      await expect.poll(() => status(recording, `r2/screen/${next + 1}.m4s`)).toBe(200);
      expect((await runtime.playback.playable(recording.id, recording.token))!.state).toBe("recording");
      await expect(runtime.takes.another(recording.id, "screen-camera")).rejects.toMatchObject({ status: 409 });
    } finally {
      await elsewhere.close();
      await second.close();
    }
  });

  it("has another source, and is seen where the others have nothing", async () => {
    const { recordingId, token } = await feedTake(runtime, orla, "camera", { camera: "camera", microphone: "aac" }, 6);
    await runtime.sharing.change(orla, recordingId, { audience: "anyone" });
    const recording = (await runtime.access.byToken(token))!;
    const play = async () => (await runtime.playback.playable(recordingId, token))!;
    const take = await runtime.takes.another(recordingId, "screen-camera");
    // While nothing of it is here, what was there before plays.
    expect(await play()).toMatchObject({ lead: "camera", state: "recording" });
    await feed(runtime, take.takeId, TRACKS, 4);
    const voice = await runtime.takes.another(recordingId, "voice");
    await feed(runtime, voice.takeId, { microphone: "aac" }, 4);
    const { layers, scenes, frame, lead, durationUs } = await play();
    expect([lead, frame, Math.round(durationUs / S)]).toEqual(["screen", { width: 640, height: 360 }, 14]);
    const seconds = (role: string) =>
      layers.find((l) => l.role === role)!.spans?.map(({ from, to }) => [Math.round(from / S), Math.round(to / S)]);
    expect([seconds("voice"), seconds("main"), seconds("camera")]).toEqual([undefined, [[6, 10]], undefined]);
    // The camera alone, the camera over the screen, and nothing to see.
    expect(scenes.map(({ at, layers: seen }) => [Math.round(at / S), seen.map((l) => l.track)])).toEqual([
      [0, ["camera"]],
      [6, ["screen", "camera"]],
      [10, []],
    ]);
    const list = await playlist(recording, "r3/screen.m3u8");
    expect(list.targetDuration).toBe(3);
    const gaps = list.segments.filter((s) => s.gap).map((s) => s.duration);
    expect(gaps.reduce((sum, d) => sum + d, 0)).toBeCloseTo(6, 0);
  });

  it("is refused of a recording that is gone", async () => {
    const recording = await recorded();
    await runtime.library.delete(orla, recording.id);
    await expect(runtime.takes.another(recording.id, "screen-camera")).rejects.toMatchObject({ status: 404 });
  });

  it("two at once: one is started", async () => {
    const recording = await recorded();
    const tries = await Promise.allSettled([1, 2, 3].map(() => runtime.takes.another(recording.id, "screen-camera")));
    expect(tries.filter((t) => t.status === "fulfilled")).toHaveLength(1);
  });

  it("thrown away is not shown any more; the recording stays", async () => {
    const recording = await recorded();
    const take = await withAnother(recording);
    const { length } = (await playlist(recording, "r2/screen.m3u8")).segments;
    await runtime.takes.discard(take.takeId);
    await expect.poll(() => status(recording, "r2/screen.m3u8")).toBe(404);
    const list = await playlist(recording, "r3/screen.m3u8");
    expect([list.segments.length < length, list.endlist]).toEqual([true, true]);
    expect(await status(recording, `r3/screen/${length}.m4s`)).toBe(404);
    const { rows } = await runtime.library.page(orla, LISTED);
    const row = rows.find((r) => r.id === recording.id)!;
    expect([row.state.kind, Math.round(row.durationUs / S)]).toEqual(["ready", FIRST]);
  });
});

describe("a take whose browser says nothing any more", () => {
  const begun = async () => {
    const { recordingId, takeId } = await runtime.takes.start(orla, {
      source: "voice",
      title: "Left",
      audience: "owner",
    });
    const { init, segments } = makeTrack("chirp", 8);
    await runtime.ingest.putInit(takeId, "microphone", Buffer.from(init), sha256(init));
    // The third part is missing.
    for (const n of [1, 2, 4])
      await runtime.ingest.putSegment(takeId, "microphone", n, Buffer.from(segments[n - 1]!), sha256(segments[n - 1]!));
    return { recordingId, takeId };
  };
  const silentFor = (takeId: string, seconds: number) =>
    runtime.db.rows(
      `with heard as (update takes set heard_at = now() - make_interval(secs => $2) where id = $1)
       update segments set stored_at = now() - make_interval(secs => $2)
        where track_id in (select id from tracks where take_id = $1) returning number`,
      [takeId, seconds],
    );

  it("is ended by its owner with what is here without a gap, and not while it lives", async () => {
    const { recordingId, takeId } = await begun();
    expect(await codeOf(runtime.takes.endHere(recordingId))).toBe("still-recording");
    await silentFor(takeId, 60);
    await runtime.takes.endHere(recordingId);
    expect(await runtime.takes.state(takeId)).toEqual({ state: "complete", missing: 0 });
    expect(await runtime.takes.stored(takeId)).toEqual({ microphone: [1, 2] });
    // Again, as by two presses.
    await runtime.takes.endHere(recordingId);
  });

  it("is ended by itself after two weeks, and not before", async () => {
    const { takeId } = await begun();
    await silentFor(takeId, 13 * 86_400);
    await runtime.takes.endForgotten();
    expect((await runtime.takes.state(takeId)).state).toBe("recording");
    await silentFor(takeId, 15 * 86_400);
    await runtime.takes.endForgotten();
    expect((await runtime.takes.state(takeId)).state).toBe("complete");
  });
});

describe("takes in another order", () => {
  it("are the same bytes at other times, on one time line, under another poster", async () => {
    const recording = await recorded();
    await withAnother(recording);
    const row = () => runtime.db.models.Recording.findByPk(recording.id);
    await runtime.db.models.Recording.update({ posterKey: "posters/old" }, { where: { id: recording.id } });
    await runtime.editing.reorder(recording.id, [2, 1], 2);
    const playable = (await runtime.playback.playable(recording.id, recording.token))!;
    expect(playable).toMatchObject({ revision: 3, state: "complete" });
    expect(playable.durationUs / S - FIRST - SECOND_TAKE).toBeLessThan(0.1);
    expect((await row())!.posterKey).not.toBe("posters/old");
    for (const track of ["screen", "camera", "microphone"] as const) {
      const { file } = await played(recording, `r3/${track}.m3u8`);
      expect(decodeComplaints(file)).toBe("");
      const times = packetTimes(file);
      const [length, last] = [times.at(-1)! - times[0]!, Math.max(...times.slice(1).map((t, i) => t - times[i]!))];
      expect(Math.abs(length - FIRST - SECOND_TAKE)).toBeLessThan(0.15);
      expect(last).toBeLessThan(0.15);
    }
    // What the second take began with is what is seen first: the bytes of its first segment, untouched.
    const first = Buffer.from(await bytesOf(recording, "r3/screen/1.m4s"));
    await runtime.editing.reorder(recording.id, [1, 2], 3);
    const list = await playlist(recording, "r4/screen.m3u8");
    const again = Buffer.from(
      await bytesOf(recording, `r4/${list.segments.find((s) => s.map!.uri.endsWith("init-2.mp4"))!.uri}`),
    );
    // Without their base times (moof) they are the same.
    const media = (bytes: Buffer) => sha256(bytes.subarray(bytes.indexOf("mdat")));
    expect(media(first)).toEqual(media(again));
    expect(await status(recording, "r3/screen/1.m4s")).toBe(404);
    const another = await withAnother(recording);
    expect(another.recordingId).toBe(recording.id);
    expect((await runtime.library.shownTakes(recording.id)).map(({ position }) => position)).toEqual([1, 2, 3]);
  });

  it("are refused where another one grows, was changed meanwhile, or is not shown", async () => {
    const recording = await recorded();
    const take = await runtime.takes.another(recording.id, "screen-camera");
    await expect(runtime.editing.reorder(recording.id, [2, 1], 2)).rejects.toMatchObject({ status: 409 });
    await feed(runtime, take.takeId, TRACKS, SECOND_TAKE);
    await expect(runtime.editing.reorder(recording.id, [2, 1], 1)).rejects.toMatchObject({ status: 409 });
    await expect(runtime.editing.reorder(recording.id, [2, 3], 2)).rejects.toMatchObject({ status: 422 });
    const tries = await Promise.allSettled([1, 2, 3].map(() => runtime.editing.reorder(recording.id, [2, 1], 2)));
    expect(tries.filter(({ status }) => status === "fulfilled")).toHaveLength(1);
    await expect(runtime.editing.reorder(randomUUID(), [2, 1], 1)).rejects.toMatchObject({ status: 404 });
  });
});

it("throwing away what came after an empty take leaves nothing to show: the recording is deleted", async () => {
  const { recordingId, token, takeId } = await runtime.takes.start(orla, {
    source: "screen-camera",
    title: "Nothing came of it",
    audience: "anyone",
  });
  await runtime.takes.finish(takeId, { expected: {} });
  const { takeId: second } = await runtime.takes.another(recordingId, "screen-camera");
  await feed(runtime, second, TRACKS, SECOND_TAKE);
  expect((await runtime.playback.playable(recordingId, token))!.durationUs / S).toBeCloseTo(SECOND_TAKE, 0);
  await runtime.takes.discard(second);
  expect(await runtime.access.byToken(token)).toMatchObject({ deletedAt: expect.any(Number) });
});

describe("a take that its recorder began by itself", () => {
  const voice = { source: "voice", title: "In the cellar", audience: "owner" } as const;
  const startOnce = (member: SignedIn, given: Given) =>
    runtime.takes.startOnce(member, given, (as) => runtime.takes.start(as, voice, given.takeId));

  it("is one recording, however often and however much at once the server is told of it", async () => {
    const takeId = randomUUID();
    const started = await Promise.all([1, 2, 3, 4].map(() => startOnce(orla, { takeId, by: orla.id })));
    const again = await startOnce(orla, { takeId });
    expect(new Set([...started, again].map((s) => `${s.takeId} ${s.recordingId} ${s.token}`)).size).toBe(1);
    expect(again.takeId).toBe(takeId);
    const { rows } = await runtime.library.page(orla, { ...LISTED, q: "In the cellar" });
    expect(rows).toHaveLength(1);
  });

  it("is nobody else's: not under another name, not by its id", async () => {
    const bram = await newMember(runtime);
    const takeId = randomUUID();
    await expect(startOnce(bram, { takeId, by: orla.id })).rejects.toMatchObject({ status: 409, code: "other-person" });
    await startOnce(orla, { takeId });
    await expect(startOnce(bram, { takeId })).rejects.toMatchObject({ status: 409, code: "no-such-take" });
    const second = randomUUID();
    const { recordingId } = await startOnce(orla, { takeId: second, workspace: orla.workspaceId });
    expect(await runtime.access.byId(recordingId)).toMatchObject({ workspaceId: orla.workspaceId, ownerId: orla.id });
    await expect(startOnce(orla, { takeId: randomUUID(), workspace: bram.workspaceId })).rejects.toMatchObject({
      status: 403,
    });
  });
});

describe("what is said and seen", () => {
  it("is kept on the source line, and told where it is shown", async () => {
    const recording = await recorded();
    const early = await new Browser(runtime, recording).as("Wren");
    await early.say({ do: "comment", body: "In the first take?", at: 2 * S, until: 5 * S });
    const take = await withAnother(recording);
    const place = FIRST * S + 1.5 * S;
    // A page that still shows the first revision, and one that shows the second.
    await early.say({ do: "react", kind: "not-clear", at: 3 * S, revision: 1 });
    await early.say({ do: "comment", body: "In the second?", at: place, revision: 2 });
    await runtime.asks.set(recording.id, { kind: "nod", question: "", choices: [], due: null, zone: "UTC" });
    await early.say({ do: "answer", answer: { kind: "not-clear", at: place, words: "The hinge" } });
    await early.plays([4, 8]);
    const [{ source }] = (await runtime.db.rows<{ source: number }>(
      "select at_us as source from comments where recording_id = $1 order by at_us desc limit 1",
      [recording.id],
    )) as [{ source: number }];
    expect(source - startOfTake(2)).toBeCloseTo(1.5 * S, -5);

    const shown = async () => (await runtime.comments.list(recording.id)).map((c) => [c.body, c.at, c.until]);
    expect(await shown()).toEqual([
      ["In the first take?", 2 * S, 5 * S],
      ["In the second?", place, null],
    ]);
    const ask = await runtime.asks.of(recording.id);
    const one = await runtime.figures.one(recording.id, ask, Date.now());
    expect(one.lanes.comments).toEqual([2 * S, place]);
    expect(one.people.rows[0]).toMatchObject({ answer: { kind: "not-clear", at: place } });
    expect(one.people.rows[0]!.seen.map((r) => [r.from / S, r.to / S])).toEqual([[4, expect.closeTo(8, 2)]]);
    expect(one.people.rows[0]!.covered / S).toBeCloseTo(4, 2);
    expect((await runtime.comments.toAnnotations(recording.id)).map((c) => c.at)).toEqual([2 * S, place]);
    const inbox = await runtime.inbox.page(orla.id, { show: "all", after: null });
    const moments = inbox.waiting.filter((w) => w.token === recording.token).map((w) => w.at);
    expect(moments.sort()).toEqual([2 * S, 3 * S, place, place].sort());
    await runtime.folds.keep(recording.id);
    const page = { q: "", sort: "newest", show: "kept", group: null, after: null } as const;
    const strip = async () =>
      (await runtime.library.page(orla, page)).rows.find((r) => r.id === recording.id)!.back!.comments;
    const [a, b] = await strip();
    expect(a).toBeCloseTo(2 / (FIRST + SECOND_TAKE), 2);
    expect(b).toBeCloseTo(7.5 / (FIRST + SECOND_TAKE), 2);

    // What falls into a stretch that is left out waits there; an answer stands where it was taken out.
    await runtime.takes.discard(take.takeId);
    expect(await shown()).toEqual([["In the first take?", 2 * S, 5 * S]]);
    const after = await runtime.figures.one(recording.id, ask, Date.now());
    expect(after.people.rows[0]!.seen.map((r) => [r.from / S, Math.round(r.to / S)])).toEqual([[4, FIRST]]);
    expect(after.length / S).toBeCloseTo(FIRST, 1);
    expect((await strip()).length).toBe(1);
    // A page that was left open on the second revision tells what it showed, and it is not lost.
    await early.say({ do: "comment", body: "Late, in the second", at: place, revision: 2 });
    expect(await shown()).toHaveLength(1);
    await expect(early.say({ do: "comment", body: "Beyond", at: place })).rejects.toMatchObject({ status: 422 });
    await expect(early.say({ do: "comment", body: "Nowhere", at: 1, revision: 9 })).rejects.toMatchObject({
      status: 404,
    });
    expect((await runtime.people(recording.id, NOTHING_ASKED, Date.now())).rows).toHaveLength(1);
  });
});
