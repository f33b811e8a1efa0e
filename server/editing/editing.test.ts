import { randomUUID } from "node:crypto";
import { EncodedPacketSink, HLS_FORMATS, Input, UrlSource } from "mediabunny";
import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import { boxes, view } from "#core/media/iso";
import { readParameterSets } from "#core/media/parameter-sets";
import { leftOut, outOf, putBack, recipeOf } from "#core/recipe/edits";
import { frameAt, momentOf } from "#core/recipe/frames";
import { startOfTake } from "#core/recipe/source-line";
import type { TakeSource } from "#core/media/tracks";
import type { Range } from "#core/time/ranges";
import {
  decodeComplaints,
  joinBytes,
  makeTrack,
  pictureNumbers,
  probePackets,
  soundSamples,
  type MadeKind,
} from "../../testing/media";
import { random } from "../../testing/random";
import { feed, freshRuntime, newMember, serve, sha256 } from "../../testing/server";
import { sharedRecording, watching } from "../../testing/shared";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import { sweepStorage } from "../jobs/sweep-storage";
import { StorageFull } from "../storage/storage";
import { putEntries } from "../recordings/entries";
import type { Runtime } from "../runtime";

const SECONDS = 30;
const HALF_A_PACKET = 512;
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

const recorded = (source: TakeSource, tracks: Record<string, MadeKind>, seconds = SECONDS) =>
  sharedRecording(runtime, orla, source, tracks, seconds);
const { get, bytesOf, ...watch } = watching(() => server.base);
const played = (recording: KnownRecording, revision: number, track: string) =>
  watch.played(recording, `r${revision}/${track}.m3u8`);

/** Publishes, and waits for it. @returns the revision's number */
async function publish(recording: KnownRecording, change: (kept: Range[], takes: Range[]) => Range[]) {
  const { kept, takes, revision } = await runtime.editing.stretches(recording.id);
  await runtime.editing.ask(recording.id, { kept: change(kept, takes), seen: revision });
  await vi.waitUntil(async () => (await runtime.editing.state(recording.id))!.state !== "waiting", 60_000);
  expect(await runtime.editing.state(recording.id)).toMatchObject({ state: "published", problem: null });
  return revision + 1;
}
const takesOf = async ({ id }: KnownRecording) =>
  (await runtime.db.models.Take.findAll({ where: { recordingId: id }, order: ["position"] })).map((take) => take.id);
const cut = (from: number, to: number): Range => ({ from: momentOf(from), to: momentOf(to) });
const without = (cuts: Range[]) => (kept: Range[]) => cuts.reduce(leftOut, kept);
const framesOf = (kept: readonly Range[]) =>
  kept.flatMap(({ from, to }) => Array.from({ length: frameAt(to - from) }, (_, n) => frameAt(from) + n));

/** By how many samples sound that is shown at a place is away from where it ought to be. */
function lag(shown: Float32Array, at: number, source: Float32Array, from: number): number {
  const WINDOW = 4_096;
  let best = { score: -Infinity, lag: 0 };
  for (let lag = -1_200; lag <= 1_200; lag += 4) {
    let score = 0;
    for (let n = 0; n < WINDOW; n += 2) score += shown[at + n]! * (source[from + n + lag] ?? 0);
    if (score > best.score) best = { score, lag };
  }
  return best.lag;
}

/** What mediabunny finds behind a playlist, in the order in which it stands there. Seconds */
async function readByMediabunny(url: string): Promise<{ timestamp: number; end: number }[]> {
  const input = new Input({ source: new UrlSource(url), formats: HLS_FORMATS });
  try {
    const track = (await input.getPrimaryVideoTrack()) ?? (await input.getPrimaryAudioTrack());
    const packets = [];
    for await (const { timestamp, duration } of new EncodedPacketSink(track!).packets())
      packets.push({ timestamp, end: timestamp + duration });
    return packets;
  } finally {
    input.dispose();
  }
}

describe("an edit of twenty cuts", () => {
  let recording: KnownRecording;
  let kept: Range[];
  let revision: number;
  const cuts: Range[] = [];
  beforeAll(async () => {
    const pick = random(17);
    for (let n = 0; n < 20; n++) {
      const from = pick(SECONDS * 30 - 30);
      cuts.push(cut(from, from + 3 + pick(25)));
    }
    recording = await recorded("screen-camera", { screen: "numbered", camera: "numbered-half", microphone: "chirp" });
    revision = await publish(recording, without(cuts));
    ({ kept } = await runtime.editing.stretches(recording.id));
  }, 120_000);

  it("shows the very pictures that the recipe names, on both tracks, under one init segment", async () => {
    // The sound ends a little after the pictures.
    const wanted = framesOf(kept).filter((n) => n < SECONDS * 30);
    expect(wanted.length).toBeLessThan(SECONDS * 30 - 150);
    for (const [track, number] of [
      ["screen", (n: number) => n],
      ["camera", (n: number) => n - (n % 2)],
    ] as const) {
      const { file, inits, length } = await played(recording, revision, track);
      // Outside check: ffmpeg counts and decodes.
      expect(decodeComplaints(file)).toBe("");
      const shown = pictureNumbers(file);
      // The camera's last picture has only one thirtieth in the file that was made.
      expect(shown).toEqual(wanted.map(number).slice(0, track === "camera" ? -1 : undefined));
      expect(inits).toHaveLength(1);
      expect(length).toBeCloseTo(shown.length / 30, 3);
    }
  });

  it("plays each sound at its place to half a packet, without a hole, and adds nothing up", async () => {
    const { file } = await played(recording, revision, "microphone");
    const source = makeTrack("chirp", SECONDS);
    const [shown, whole] = [soundSamples(file), soundSamples(joinBytes(source.init, ...source.segments))];
    expect(decodeComplaints(file)).toBe("");
    const { packets } = probePackets(file);
    expect(Math.abs(packets - (framesOf(kept).length * 1600) / 1024)).toBeLessThan(2);
    let at = 0;
    for (const { from, to } of kept) {
      const [begins, length] = [frameAt(at) * 1600, frameAt(to - from) * 1600];
      at += to - from;
      if (length < 12_000) continue;
      const place = begins + length - 7_000;
      expect(Math.abs(lag(shown, place, whole, place - begins + frameAt(from) * 1600))).toBeLessThan(HALF_A_PACKET + 8);
    }
    expect(Math.abs(shown.length - framesOf(kept).length * 1600)).toBeLessThan(2_100);
  });

  it("is one of those that can be opened again, beside what was recorded", async () => {
    const known = await runtime.revisions.of(recording.id);
    expect(known.map(({ number }) => number)).toEqual([revision, 1]);
    const lengths = known.map(({ length }) => length / 1e6);
    expect(lengths[0]).toBeCloseTo(framesOf(kept).length / 30, 3);
    expect(Math.abs(lengths[1]! - SECONDS)).toBeLessThan(0.1);
    expect((await runtime.revisions.one(recording.id, revision)).kept).toEqual(kept);
    const { kept: first } = await runtime.revisions.one(recording.id, 1);
    expect(first).toEqual([{ from: 0, to: expect.any(Number) as number }]);
    expect(Math.abs(first[0]!.to / 1e6 - SECONDS)).toBeLessThan(0.1);
    await expect(runtime.revisions.one(recording.id, revision + 1)).rejects.toMatchObject({ status: 404 });
    // Everything as it was recorded is no revision of anybody.
    await runtime.editing.recorded(recording.id);
    await expect(runtime.revisions.one(recording.id, 0)).rejects.toMatchObject({ status: 404 });
  });

  it("is the same for another reader of HLS", async () => {
    for (const [track, rate] of [
      ["screen", 30],
      ["camera", 30],
      ["microphone", 48_000 / 1024],
    ] as const) {
      const packets = await readByMediabunny(`${server.base}/w/${recording.token}/r${revision}/${track}.m3u8`);
      const { file, length } = await played(recording, revision, track);
      // Outside checks, one against the other: mediabunny's reader of playlists, and ffprobe's of what they lead to.
      expect([track, packets.length]).toEqual([track, probePackets(file).packets]);
      const places = packets.map(({ timestamp }) => timestamp * rate);
      for (const place of places)
        expect(Math.abs(place - places[0]! - Math.round(place - places[0]!))).toBeLessThan(0.01);
      // Without a hole: each begins where the one before ends.
      const holes = packets.filter((p, i) => i > 0 && Math.abs(p.timestamp - packets[i - 1]!.end) > 0.002);
      expect([track, holes]).toEqual([track, []]);
      expect(Math.abs(packets.at(-1)!.end - packets[0]!.timestamp - length)).toBeLessThan(0.05);
    }
  });

  it("serves the bytes of whole segments as they came, and nothing that was cut", async () => {
    const { length: segments } = (await played(recording, revision, "screen")).segments;
    const media = (bytes: Uint8Array) =>
      Buffer.from(bytes).subarray(Buffer.from(bytes).indexOf("mdat")).toString("hex");
    const all = new Map(makeTrack("numbered", SECONDS).segments.map((s, n) => [media(s), n]));
    const whole: number[] = [];
    for (let n = 1; n <= segments; n++) {
      const known = all.get(media(await bytesOf(recording, `r${revision}/screen/${n}.m4s`)));
      if (known !== undefined) whole.push(known);
    }
    const untouched = Array.from({ length: (SECONDS * 30) / 45 }, (_, n) => n).filter((n) =>
      kept.some(({ from, to }) => frameAt(from) <= n * 45 && frameAt(to) >= n * 45 + 45),
    );
    expect(whole).toEqual(untouched);
    for (const path of [
      `r${revision}/screen/${segments + 1}.m4s`,
      `r${revision}/screen/0.m4s`,
      `r${revision}/screen/-1.m4s`,
      `r${revision - 1}/screen/1.m4s`,
      `r${revision - 1}/screen.m3u8`,
      `r${revision + 1}/screen/1.m4s`,
    ])
      expect([path, (await get(recording, path)).status]).toEqual([path, 404]);
  });

  it("is as it was when everything is put back, from the bytes that came", async () => {
    const again = await publish(recording, (now, takes) => outOf(now, takes).reduce(putBack, now));
    const { file } = await played(recording, again, "screen");
    expect(pictureNumbers(file)).toEqual(framesOf([cut(0, SECONDS * 30)]));
    const edges = await runtime.db.rows(
      "select 1 from pieces p join revisions v on v.id = p.revision_id where v.recording_id = $1 and number = $2 and first < 0",
      [recording.id, again],
    );
    expect(edges).toEqual([]);
    // The same cuts once more need no new edge.
    const count = () => runtime.db.rows<{ n: number }>("select count(*)::int as n from edges", []);
    const before = await count();
    await publish(recording, without(cuts));
    expect(await count()).toEqual(before);
  });
});

describe("other tracks", () => {
  it("VP9 and Opus are cut as well, in the middle of one segment too", async () => {
    const recording = await recorded("screen", { screen: "numbered-vp9", microphone: "chirp-opus" }, 9);
    const revision = await publish(recording, without([cut(0, 50), cut(60, 62), cut(200, 270)]));
    const { kept } = await runtime.editing.stretches(recording.id);
    const { file } = await played(recording, revision, "screen");
    expect(pictureNumbers(file)).toEqual(framesOf(kept).filter((n) => n < 270));
    expect(decodeComplaints((await played(recording, revision, "microphone")).file)).toBe("");
  });

  it("a voice alone, and a camera that was lost before the end", async () => {
    const voice = await recorded("voice", { microphone: "chirp" }, 6);
    await publish(voice, without([cut(30, 90)]));
    expect((await runtime.playback.playable(voice.id, voice.token))!.durationUs / 1e6).toBeCloseTo(4, 1);

    const { takeId, recordingId, token } = await runtime.takes.start(orla, {
      source: "screen-camera",
      title: "Lost",
      audience: "anyone",
    });
    const { init, segments } = makeTrack("numbered", 9);
    await runtime.ingest.putInit(takeId, "camera", Buffer.from(init), sha256(init));
    await runtime.ingest.putSegment(takeId, "camera", 1, Buffer.from(segments[0]!), sha256(segments[0]!));
    for (const [n, bytes] of segments.entries()) {
      if (n === 0) await runtime.ingest.putInit(takeId, "screen", Buffer.from(init), sha256(init));
      await runtime.ingest.putSegment(takeId, "screen", n + 1, Buffer.from(bytes), sha256(bytes));
    }
    await runtime.takes.finish(takeId, { expected: { screen: segments.length, camera: 1 } });
    const lost = (await runtime.access.byToken(token))!;
    const revision = await publish(lost, without([cut(10, 100)]));
    const screen = await played(lost, revision, "screen");
    expect(pictureNumbers(screen.file)).toEqual([...framesOf([cut(0, 10), cut(100, 270)])]);
    expect(pictureNumbers((await played(lost, revision, "camera")).file)).toEqual(framesOf([cut(0, 10)]));
    expect(recordingId).toBe(lost.id);
  });

  it("two takes: each is cut, and they can still be put in another order", async () => {
    const recording = await recorded("screen", { screen: "numbered" }, 6);
    const { takeId } = await runtime.takes.another(recording.id, "screen");
    await feed(runtime, takeId, { screen: "numbered" }, 6);
    const second = { from: startOfTake(2) + momentOf(20), to: startOfTake(2) + momentOf(70) };
    const revision = await publish(recording, without([cut(100, 130), second]));
    const one = [...framesOf([cut(0, 100), cut(130, 180)])];
    const two = [...framesOf([cut(0, 20), cut(70, 180)])];
    expect(pictureNumbers((await played(recording, revision, "screen")).file)).toEqual([...one, ...two]);
    await runtime.editing.reorder(recording.id, [2, 1], revision);
    const { file, inits } = await played(recording, revision + 1, "screen");
    expect(pictureNumbers(file)).toEqual([...two, ...one]);
    expect(inits).toHaveLength(2);
    // Another take after that is shown behind it as it comes in.
    const { takeId: third } = await runtime.takes.another(recording.id, "screen");
    await feed(runtime, third, { screen: "numbered" }, 6);
    const all = await played(recording, revision + 2, "screen");
    expect(pictureNumbers(all.file)).toEqual([...two, ...one, ...framesOf([cut(0, 180)])]);
  });
});

describe("asking for an edit", () => {
  it("is refused for what is not there, while a take is on its way, and over somebody else's", async () => {
    const recording = await recorded("screen", { screen: "numbered" }, 6);
    const { kept, revision } = await runtime.editing.stretches(recording.id);
    const ask = (stretches: Range[], seen = revision) => runtime.editing.ask(recording.id, { kept: stretches, seen });
    for (const wrong of [
      [],
      [cut(10, 10)],
      [cut(0, 181)],
      [{ from: startOfTake(2), to: startOfTake(2) + 1e6 }],
      [cut(0, 50), cut(40, 60)],
      Array.from({ length: 1_001 }, (_, n) => ({ from: n, to: n + 1 })),
    ])
      await expect(ask(wrong)).rejects.toMatchObject({ status: 422 });
    await expect(ask(kept, revision + 1)).rejects.toMatchObject({ status: 409, code: "changed-meanwhile" });
    const tries = await Promise.allSettled([1, 2, 3].map(() => ask([cut(0, 100)])));
    expect(tries.filter((t) => t.status === "fulfilled")).toHaveLength(1);
    await expect.poll(() => runtime.editing.state(recording.id)).toMatchObject({ state: "published" });
    const open = await runtime.takes.another(recording.id, "screen");
    await expect(ask([cut(0, 50)], revision + 2)).rejects.toMatchObject({ status: 409, code: "take-open" });
    await runtime.takes.discard(open.takeId);
  });

  it("goes on after it was broken off, with the edges that were made, and is published once", async () => {
    const recording = await recorded("screen", { screen: "numbered" }, 9);
    const { kept, revision } = await runtime.editing.stretches(recording.id);
    // Asked for without the queue, so that it can be broken off here.
    const later = without([cut(20, 30), cut(100, 110), cut(200, 210)])(kept);
    await runtime.db.rows(
      "insert into publications (recording_id, id, seen, recipe, state) values ($1, gen_random_uuid(), $2, $3, 'waiting')",
      [recording.id, revision, JSON.stringify(recipeOf(later))],
    );
    const ending = new AbortController();
    const broken = runtime.editing.run(recording.id, ending.signal);
    await expect
      .poll(async () => (await runtime.editing.state(recording.id))!.done, { interval: 5 })
      .toBeGreaterThan(0);
    ending.abort();
    await expect(broken).rejects.toThrow();
    const state = (await runtime.editing.state(recording.id))!;
    expect([state.state, state.done < state.wanted]).toEqual(["waiting", true]);
    const never = new AbortController().signal;
    await Promise.all([1, 2].map(() => runtime.editing.run(recording.id, never)));
    expect(await runtime.editing.state(recording.id)).toMatchObject({ state: "published", done: state.wanted });
    expect((await runtime.editing.stretches(recording.id)).revision).toBe(revision + 1);
    expect(pictureNumbers((await played(recording, revision + 1, "screen")).file)).toEqual(framesOf(later));
  });

  it("changes nothing and says so when the disk is full, and is published when there is room again", async () => {
    const recording = await recorded("screen", { screen: "numbered" }, 6);
    const { kept, revision } = await runtime.editing.stretches(recording.id);
    const later = without([cut(20, 30)])(kept);
    const put = vi.spyOn(runtime.storage, "put").mockRejectedValue(new StorageFull("the server's disk is full"));
    const ask = () => runtime.editing.ask(recording.id, { kept: later, seen: revision });
    await ask();
    const state = async () => (await runtime.editing.state(recording.id))!;
    await expect.poll(async () => (await state()).state, { timeout: 20_000 }).toBe("failed");
    expect((await state()).problem).toMatch(/^The server's disk is full\./);
    expect((await runtime.editing.stretches(recording.id)).revision).toBe(revision);
    put.mockRestore();
    await ask();
    await expect.poll(async () => (await state()).state, { timeout: 20_000 }).toBe("published");
    expect(pictureNumbers((await played(recording, revision + 1, "screen")).file)).toEqual(framesOf(later));
  });

  it("leaves no picture of what was cut in the poster", async () => {
    const recording = await recorded("screen", { screen: "numbered" }, 6);
    const key = async () => (await runtime.db.models.Recording.findByPk(recording.id))!.posterKey;
    await expect.poll(key, { timeout: 20_000 }).not.toBeNull();
    const before = await key();
    await publish(recording, without([cut(0, 63)]));
    await expect.poll(key, { timeout: 20_000 }).not.toBeNull();
    expect(await key()).not.toBe(before);
    const jpeg = await runtime.storage.get((await key())!);
    const { default: sharp } = await import("sharp");
    const bars = await sharp(jpeg).resize(16, 1, { fit: "fill" }).greyscale().raw().toBuffer();
    expect(bars.reduce((number, bar, bit) => number + (bar > 117 ? 2 ** bit : 0), 0)).toBe(63);
  });

  it("leaves what it plays alone when the storage is swept, and nothing that it does not", async () => {
    const recording = await recorded("screen", { screen: "numbered" }, 6);
    const revision = await publish(recording, without([cut(20, 30)]));
    const orphan = `takes/${(await takesOf(recording))[0]}/screen/-999999-0123456789abcdef.m4s`;
    await runtime.storage.put(orphan, Buffer.from("x"));
    const days = 24 * 3600 * 1000;
    await sweepStorage(runtime.db, runtime.storage, Date.now() + 2 * days);
    await expect(runtime.storage.get(orphan)).rejects.toThrow();
    expect(pictureNumbers((await played(recording, revision, "screen")).file)).toEqual(
      framesOf([cut(0, 20), cut(30, 180)]),
    );
  });

  it("is not put off by what its presenter went back over, and proposes that where it cannot be asked for", async () => {
    const { takeId, recordingId } = await runtime.takes.start(orla, {
      source: "screen",
      title: "Back",
      audience: "owner",
    });
    const back = (since: number, at: number, id = randomUUID()) =>
      putEntries(runtime.db, takeId, [
        { id, version: 1, kind: "note", at, body: { what: "backed-up", text: "", since } },
      ]);
    await back(momentOf(40), momentOf(70));
    await back(momentOf(30), momentOf(90));
    await feed(runtime, takeId, { screen: "numbered" }, 6);
    await vi.waitUntil(async () => (await runtime.editing.state(recordingId))?.state === "published", 30_000);
    expect((await runtime.editing.stretches(recordingId)).kept).toEqual([cut(0, 30), cut(90, 180)]);
    expect(await runtime.proposals.of(recordingId, new AbortController().signal)).toEqual([]);
    // As it was recorded: it is proposed, once for what it is part of.
    await runtime.editing.change(recordingId, { do: "as-recorded" }, 2);
    await vi.waitUntil(async () => (await runtime.editing.state(recordingId))?.state === "published", 30_000);
    const proposed = await runtime.proposals.of(recordingId, new AbortController().signal);
    expect(proposed).toEqual([{ why: "backed-up", ...cut(40, 70), at: momentOf(40), until: momentOf(70) }]);
    // Another take that is complete while a change is on its way.
    const { takeId: second } = await runtime.takes.another(recordingId, "screen");
    await runtime.db.rows(
      "update publications set state = 'waiting', recipe = '{}', asked_at = now() where recording_id = $1",
      [recordingId],
    );
    await putEntries(runtime.db, second, [
      { id: randomUUID(), version: 1, kind: "note", at: momentOf(60), body: { what: "backed-up", text: "", since: 0 } },
    ]);
    await feed(runtime, second, { screen: "numbered" }, 6);
    expect(await runtime.takes.state(second)).toMatchObject({ state: "complete" });
  });

  it("gives an init segment that knows both encoders, once", async () => {
    const recording = await recorded("screen", { screen: "numbered" }, 6);
    const revision = await publish(recording, without([cut(20, 30), cut(100, 110)]));
    const init = await bytesOf(recording, `r${revision}/screen/init.mp4`);
    expect(readParameterSets(init)!.sequence).toHaveLength(2);
    expect(boxes(view(init), 0).map((b) => b.type)).toEqual(["ftyp", "moov"]);
  });
});
