import { randomUUID } from "node:crypto";
import { execFileSync } from "node:child_process";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import type { Card } from "#core/layout/card";
import { USUAL_ARRANGEMENT } from "#core/layout/layout";
import { SECOND } from "#core/time/micros";
import type { Dress } from "#core/recipe/dress";
import { leftOut } from "#core/recipe/edits";
import { frameAt, momentOf } from "#core/recipe/frames";
import type { Range } from "#core/time/ranges";
import {
  decodeComplaints,
  joinBytes,
  makeTrack,
  pictureAt,
  pictureNumbers,
  soundSamples,
  type MadeKind,
} from "../../testing/media";
import { codeOf, colleagueOf, feedTake, freshRuntime, newMember, serve } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import { sweepStorage } from "../jobs/sweep-storage";
import type { Runtime } from "../runtime";

const NEVER = new AbortController().signal;
const SECONDS = 12;
/** Of a numbered picture of 320 by 240, what no arch lies over. */
const FREE = "crop=320:80:0:0";
let runtime: Runtime;
let server: Awaited<ReturnType<typeof serve>>;
let orla: SignedIn;

beforeAll(async () => {
  // No worker takes the work: it is done when a test says so.
  runtime = await freshRuntime(inject("databaseUrl"), { ROLE: "web" });
  orla = await newMember(runtime);
  server = await serve(
    runtime,
    new Map([
      ["orla", orla],
      ["bram", await colleagueOf(runtime, orla)],
    ]),
  );
});
afterAll(async () => {
  await server.close();
  await runtime.close();
});

type Take = Awaited<ReturnType<typeof feedTake>>;
const BOTH = { screen: "numbered", camera: "camera", microphone: "chirp" } as const;
const recorded = (tracks: Readonly<Record<string, MadeKind>>, seconds = SECONDS): Promise<Take> => {
  const source = tracks.screen ? (tracks.camera ? "screen-camera" : "screen") : "voice";
  return feedTake(runtime, orla, source, tracks, seconds);
};

/** Publishes something else of it. */
async function publish({ recordingId }: Take, cuts: Range[], dress?: Dress): Promise<Range[]> {
  const { kept, revision } = await runtime.editing.stretches(recordingId);
  const left = cuts.reduce<Range[]>((all, cut) => leftOut(all, cut), kept as Range[]);
  await runtime.editing.ask(recordingId, { kept: left, dress, seen: revision });
  if ((await runtime.editing.state(recordingId))!.state === "waiting") await runtime.editing.run(recordingId, NEVER);
  expect(await runtime.editing.state(recordingId)).toMatchObject({ state: "published", problem: null });
  return left;
}

/** The film, as bytes. */
async function filmOf({ recordingId }: Take): Promise<Buffer> {
  await runtime.films.ask(recordingId);
  await runtime.films.make(recordingId, NEVER);
  expect(await runtime.films.of(recordingId)).toMatchObject({ state: "ready" });
  return runtime.storage.get((await runtime.films.file(recordingId)).key);
}

/** What ffprobe finds in a file. */
function probed(bytes: Uint8Array) {
  const file = join(mkdtempSync(join(tmpdir(), "probed-")), "film");
  writeFileSync(file, bytes);
  const show = ["-show_streams", "-show_chapters", "-show_format", "-of", "json"];
  const told = JSON.parse(execFileSync("ffprobe", ["-v", "error", ...show, file], { encoding: "utf8" })) as {
    streams: { codec_name: string; codec_type: string; duration: string; nb_frames: string }[];
    chapters: { start_time: string; end_time: string; tags: { title: string } }[];
    format: { duration: string; tags: Record<string, string> };
  };
  return { ...told, stream: (type: string) => told.streams.find((stream) => stream.codec_type === type) };
}
const rms = (samples: Float32Array, from: number, to: number) => {
  const some = samples.subarray(from * 48_000, to * 48_000);
  return Math.sqrt(some.reduce((sum, sample) => sum + sample ** 2, 0) / some.length);
};
const decibels = (a: number, b: number) => 20 * Math.log10(a / b);
const cut = (from: number, to: number): Range => ({ from: momentOf(from), to: momentOf(to) });
const framesOf = (kept: readonly Range[]) =>
  kept.flatMap(({ from, to }) => Array.from({ length: frameAt(to - from) }, (_, n) => frameAt(from) + n));
const partsIn = async ({ recordingId }: Take) => {
  const keys: string[] = [];
  for await (const { key } of runtime.storage.list(`films/${recordingId}/parts`)) keys.push(key);
  return keys;
};

describe("a screen of which nothing is drawn", () => {
  let film: Buffer;
  let kept: Range[];
  let take: Take;
  beforeAll(async () => {
    take = await recorded({ screen: "numbered", microphone: "chirp" });
    kept = await publish(take, [cut(20, 61), cut(100, 103), cut(200, 290)]);
    await runtime.db.models.Recording.update(
      {
        chapters: [
          { at: 0, title: "Sills; first" },
          { at: momentOf(150), title: "Vents" },
        ],
        captions: [{ from: momentOf(110), to: momentOf(150), text: "Warm it & wait" }],
        consentWho: "Maud Thorne",
        agreedAt: new Date("2026-11-03T10:00:00Z"),
      },
      { where: { id: take.recordingId } },
    );
    film = await filmOf(take);
  }, 60_000);

  it("is copied: each picture of it, and no other, once", async () => {
    expect(decodeComplaints(film)).toBe("");
    // The sound ends a little after the pictures.
    expect(pictureNumbers(film)).toEqual(framesOf(kept).filter((n) => n < SECONDS * 30));
    expect(await partsIn(take)).toEqual([]);
  });

  it("has its sound at its place, in AAC, with its captions, chapters and notes", () => {
    const { stream, chapters, format } = probed(film);
    expect(stream("video")!.codec_name).toBe("h264");
    expect(stream("audio")!.codec_name).toBe("aac");
    expect(stream("subtitle")!.codec_name).toBe("mov_text");
    expect(format.tags).toMatchObject({
      title: "How the ridge vent closes",
      artist: "Orla Fenn",
    });
    // What is noted for its sender is in none that others get.
    expect(JSON.stringify(format.tags)).not.toContain("Maud");
    const shownAt = (frame: number) => framesOf(kept).indexOf(frame) / 30;
    expect(chapters.map(({ tags: { title } }) => title)).toEqual(["Sills; first", "Vents"]);
    expect(Number(chapters[1]!.start_time)).toBeCloseTo(shownAt(150), 2);
    expect(Math.abs(Number(stream("audio")!.duration) - framesOf(kept).length / 30)).toBeLessThan(0.05);
    // The chirp tells its place: 200 Hz at the beginning, 40 Hz more each second.
    const samples = soundSamples(film);
    const pitchAt = (seconds: number) => {
      const some = samples.subarray(Math.round((seconds - 0.1) * 48_000), Math.round((seconds + 0.1) * 48_000));
      let crossings = 0;
      for (let i = 1; i < some.length; i++) if (some[i - 1]! < 0 && some[i]! >= 0) crossings++;
      return crossings / 0.2;
    };
    for (const frame of [80, 150, 310, 340])
      expect(Math.abs(pitchAt(shownAt(frame)) - (200 + (40 * frame) / 30)), String(frame)).toBeLessThan(8);
  });

  it("plays while it comes: its table stands before its pictures", () => {
    const at = (box: string) => film.indexOf(box, 0, "latin1");
    expect(at("moov")).toBeGreaterThan(0);
    expect(at("moov")).toBeLessThan(at("mdat"));
  });
});

describe("pictures that are arranged", () => {
  it("shows each picture for its thirtieth of a second over all joins, with the camera over it", async () => {
    const take = await recorded(BOTH);
    const kept = await publish(take, [cut(40, 71), cut(200, 203)]);
    const film = await filmOf(take);
    expect(decodeComplaints(film)).toBe("");
    const wanted = framesOf(kept).map((n) => Math.min(n, SECONDS * 30 - 1));
    expect(pictureNumbers(film, FREE)).toEqual(wanted);
    // The arch: its middle is the camera's picture, and the corner of its box the screen's.
    const { stream } = probed(film);
    expect(Number(stream("video")!.nb_frames)).toBe(framesOf(kept).length);
    expect(await partsIn(take)).toEqual([]);
  }, 60_000);

  it("is the same of VP9 and Opus, which are encoded anew", async () => {
    const take = await recorded({ screen: "numbered-vp9", microphone: "chirp-opus" }, 4);
    const film = await filmOf(take);
    expect(pictureNumbers(film).slice(0, 120)).toEqual(Array.from({ length: 120 }, (_, n) => n));
    const { stream } = probed(film);
    expect([stream("video")!.codec_name, stream("audio")!.codec_name]).toEqual(["h264", "aac"]);
  }, 60_000);

  it("comes nearer to a place evenly, and shows just that", async () => {
    const take = await recorded({ screen: "numbered", microphone: "chirp" }, 6);
    // The left half of the bars: number 3 of them is then two bars wide each.
    const place = { x: 0, y: 0.25, width: 0.5, height: 0.5 };
    const [from, to] = [momentOf(60), momentOf(150)];
    await publish(take, [], { zooms: { [from]: { from, to, place } } });
    const film = await filmOf(take);
    // Bars are 20 pixels wide; within the place they are 40.
    const barsAt = (n: number, wide: number) => {
      const raw = pictureAt(film, n, `scale=320:240`);
      return Array.from({ length: 8 }, (_, bar) =>
        raw[3 * (120 * 320 + Math.round((bar + 0.5) * wide))]! > 117 ? 1 : 0,
      );
    };
    const bitsOf = (n: number) => Array.from({ length: 8 }, (_, bit) => (n >> bit) & 1);
    for (const n of [0, 30, 59]) expect(barsAt(n, 20), String(n)).toEqual(bitsOf(n));
    for (const n of [82, 100, 149]) expect(barsAt(n, 40), String(n)).toEqual(bitsOf(n));
    for (const n of [172, 178]) expect(barsAt(n, 20), String(n)).toEqual(bitsOf(n));
    // Half way it is 1.5 times as near.
    expect(barsAt(60 + 10, 20 * 1.46)).toEqual(bitsOf(70));
  }, 60_000);

  it("begins and ends with its cards, and all else is so much later", async () => {
    const take = await recorded({ screen: "numbered", microphone: "chirp" }, 4);
    const card: Card = {
      ...{ style: "arch", title: "The ridge vent", name: "Orla Fenn", date: "", next: "", url: "" },
      stays: 2 * SECOND,
    };
    await publish(take, [], { cards: { opening: card, closing: { ...card, title: "Thank you", stays: SECOND } } });
    await runtime.db.models.Recording.update(
      { chapters: [{ at: momentOf(30), title: "Vents" }] },
      { where: { id: take.recordingId } },
    );
    const film = await filmOf(take);
    const numbers = pictureNumbers(film);
    expect(numbers.slice(60, 180)).toEqual(Array.from({ length: 120 }, (_, n) => n));
    expect(probed(film).chapters.map(({ start_time, tags }) => [Number(start_time), tags.title])).toEqual([
      [0, "How the ridge vent closes"],
      [3, "Vents"],
    ]);
    // Where no words are it has the card's ground: sRGB #F7F5EF, as near as video tells it.
    const [r, g, b] = pictureAt(film, 30, "crop=2:2:4:4");
    expect(Math.max(Math.abs(r! - 0xf7), Math.abs(g! - 0xf5), Math.abs(b! - 0xef))).toBeLessThan(6);
    const samples = soundSamples(film);
    expect(rms(samples, 0, 1.9)).toBeLessThan(0.0005);
    expect(rms(samples, 2.2, 5.8)).toBeGreaterThan(0.2);
    expect(rms(samples, 6.3, 6.9)).toBeLessThan(0.0005);
  }, 60_000);

  it("shows nothing of what a scene hides, though it stands still there", async () => {
    const take = await recorded(BOTH, 4);
    const { kept } = await runtime.editing.stretches(take.recordingId);
    const [{ from, to }] = kept as [Range];
    const arranged = { ...USUAL_ARRANGEMENT, scene: "camera", shape: "arch", fade: 0 } as const;
    await publish(take, [], { scenes: { [from]: { from, to, arranged } } });
    const film = await filmOf(take);
    // The camera alone: a test pattern, of which no column is one colour from top to bottom.
    expect(new Set(pictureNumbers(film, FREE)).size).toBeLessThan(10);
  }, 60_000);
});

describe("what is heard", () => {
  it("is as loud as an edit has it, comes and goes, and has its music under it", async () => {
    const take = await recorded({ microphone: "chirp" }, 8);
    await publish(take, [], { gains: { microphone: 6 }, fades: { in: 2 * SECOND } });
    const { ending, type } = await (async () => {
      await filmOf(take);
      return runtime.films.file(take.recordingId);
    })();
    expect([ending, type]).toEqual(["m4a", "audio/mp4"]);
    const louder = soundSamples(await filmOf(take));
    await publish(take, [], {});
    const plain = soundSamples(await filmOf(take));
    expect(decibels(rms(louder, 4, 5), rms(plain, 4, 5))).toBeCloseTo(6, 1);
    // As loud as it was recorded, also where it is mixed and not copied.
    const { init, segments } = makeTrack("chirp", 8);
    const source = soundSamples(joinBytes(init, ...segments));
    expect(decibels(rms(plain, 4, 5), rms(source, 4, 5))).toBeCloseTo(0, 1);
    expect(decibels(rms(louder, 0.95, 1.05), rms(plain, 0.95, 1.05))).toBeCloseTo(0, 0);

    const [from, to] = [3 * SECOND, 5 * SECOND];
    await publish(take, [], { louder: { [from]: { from, to, by: { microphone: -60 } } } });
    const quiet = soundSamples(await filmOf(take));
    expect(rms(quiet, 3.2, 4.8)).toBeLessThan(0.001);
    expect(decibels(rms(quiet, 6, 7), rms(plain, 6, 7))).toBeCloseTo(0, 1);

    const music = { bed: { tune: "panes", decibels: 0, under: 0 } } as const;
    await publish(take, [], { louder: { [from]: { from, to, by: { microphone: -60 } } }, music });
    expect(rms(soundSamples(await filmOf(take)), 3.2, 4.8)).toBeGreaterThan(0.005);
  }, 60_000);
});

describe("a join", () => {
  // Outside check: what ffmpeg decodes of the film. A tone of one loudness has no place that is much quieter.
  it.each(["microphone", "aac"] as const)(
    "of %s has no hole and no dip",
    async (kind) => {
      const take = await recorded({ microphone: kind }, 12);
      // Louder, so that the sound is mixed, and not copied packet by packet.
      await publish(take, [cut(69, 87), cut(171, 190), cut(267, 285)], { gains: { microphone: 6 } });
      const samples = soundSamples(await filmOf(take));
      const windows = Array.from({ length: Math.floor(samples.length / 48_000 / 0.005) - 40 }, (_, n) =>
        rms(samples, 0.1 + n * 0.005, 0.105 + n * 0.005),
      );
      const usual = windows.toSorted((a, b) => a - b)[windows.length >> 1]!;
      expect(windows.filter((one) => one < 0.5 * usual).length).toBe(0);
    },
    60_000,
  );
});

describe("making it", () => {
  it("goes on after a kill with the parts that are there", async () => {
    const take = await recorded(BOTH, 24);
    await runtime.films.ask(take.recordingId);
    const killed = new AbortController();
    const making = runtime.films.make(take.recordingId, killed.signal);
    await expect.poll(() => partsIn(take), { timeout: 30_000, interval: 20 }).toHaveLength(1);
    killed.abort();
    await expect(making).rejects.toThrow();
    expect(await runtime.films.of(take.recordingId)).toMatchObject({ state: "waiting" });
    // The next process asks for what was being worked on.
    const asked = () =>
      runtime.db.rows("select id from jobs.job where name = 'film' and state = 'created' and singleton_key = $1", [
        take.recordingId,
      ]);
    await runtime.db.rows("update jobs.job set state = 'active' where singleton_key = $1 returning id", [
      take.recordingId,
    ]);
    expect(await asked()).toHaveLength(0);
    await runtime.films.goOn();
    expect(await asked()).toHaveLength(1);
    const [first] = await partsIn(take);
    const was = await runtime.storage.get(first!);
    // As it is, whatever stands in it: so it is seen that it is not made again.
    const part = pictureNumbers(was, FREE);
    const film = await filmOf(take);
    expect(pictureNumbers(film, FREE).slice(0, part.length)).toEqual(part);
    expect(pictureNumbers(film, FREE)).toHaveLength(24 * 30 + 1);
  }, 90_000);

  it("can be cancelled, and leaves nothing", async () => {
    const take = await recorded(BOTH, 24);
    await runtime.films.ask(take.recordingId);
    const making = runtime.films.make(take.recordingId, NEVER);
    await expect.poll(() => partsIn(take), { timeout: 30_000, interval: 20 }).toHaveLength(1);
    await runtime.films.cancel(take.recordingId);
    await making;
    expect(await runtime.films.of(take.recordingId)).toEqual({ state: "none" });
    await runtime.films.cancel(take.recordingId);
    expect(await codeOf(runtime.films.file(take.recordingId))).toBe("no-film");
  }, 60_000);

  it("is not there any more when something else is published, and is that when it is made anew", async () => {
    const take = await recorded({ screen: "numbered", microphone: "chirp" }, 4);
    const before = await filmOf(take);
    const { key } = await runtime.films.file(take.recordingId);
    await publish(take, [cut(30, 60)]);
    expect(await runtime.films.of(take.recordingId)).toEqual({ state: "none" });
    expect(await codeOf(runtime.films.file(take.recordingId))).toBe("no-film");
    const after = await filmOf(take);
    expect(pictureNumbers(after)).toHaveLength(pictureNumbers(before).length - 30);
    // What it was before is swept up.
    expect(await runtime.storage.get(key)).toEqual(before);
    await sweepStorage(runtime.db, runtime.storage, Date.now() + 2 * 24 * 3600 * 1000);
    await expect(runtime.storage.get(key)).rejects.toThrow();
    expect(await runtime.storage.get((await runtime.films.file(take.recordingId)).key)).toEqual(after);
    await runtime.erase(take.recordingId);
    const left: string[] = [];
    for await (const { key } of runtime.storage.list(`films/${take.recordingId}`)) left.push(key);
    expect(left).toEqual([]);
  }, 60_000);

  it("is of now for all that it holds: a title that was changed, and chapters, ask for it anew", async () => {
    const take = await recorded({ microphone: "chirp" }, 4);
    await runtime.sharing.change(orla, take.recordingId, { audience: "anyone", downloads: true });
    await filmOf(take);
    const state = async () => (await runtime.films.of(take.recordingId)).state;
    await runtime.library.rename(orla, take.recordingId, "Sills \\", 1);
    expect(await state()).toBe("waiting");
    expect(probed(await filmOf(take)).format.tags).toMatchObject({ title: "Sills \\ ", artist: "Orla Fenn" });
    await runtime.library.setChapters(orla, take.recordingId, [{ at: SECOND, title: "Wet" }], []);
    expect(await state()).toBe("waiting");
    expect(probed(await filmOf(take)).chapters.map(({ tags: { title } }) => title)).toContain("Wet");
  }, 60_000);

  it("says why it cannot be made, and can be asked for again", async () => {
    const take = await recorded({ screen: "numbered", microphone: "chirp" }, 4);
    const [track] = await runtime.db.models.Track.findAll({ where: { takeId: take.takeId, name: "screen" } });
    const segment = (await runtime.db.models.Segment.findOne({ where: { trackId: track!.id, number: 2 } }))!;
    const bytes = await runtime.storage.get(segment.key);
    await runtime.storage.remove(segment.key);
    await runtime.films.ask(take.recordingId);
    await runtime.films.make(take.recordingId, NEVER);
    expect(await runtime.films.of(take.recordingId)).toEqual({
      state: "failed",
      problem: "A part of it is not there any more.",
    });
    await runtime.storage.put(segment.key, bytes);
    await filmOf(take);
  }, 60_000);

  it("is made by itself where others may have it, at once and after each edit", async () => {
    const take = await recorded({ screen: "numbered", microphone: "chirp" }, 4);
    await runtime.sharing.change(orla, take.recordingId, { audience: "anyone", downloads: true });
    expect(await runtime.films.of(take.recordingId)).toEqual({ state: "waiting", done: 0 });
    await runtime.films.make(take.recordingId, NEVER);
    await publish(take, [cut(30, 60)]);
    // What follows from it is asked for by the transaction that shows it; here nobody works.
    const [job] = await runtime.db.rows(
      "select from jobs.job where name = 'shown' and data ->> 'recordingId' = $1 and state = 'created'",
      [take.recordingId],
    );
    expect(job).toBeDefined();
    await runtime.films.renew(take.recordingId);
    expect(await runtime.films.of(take.recordingId)).toEqual({ state: "waiting", done: 0 });
    // What still grows is made when all of it is here.
    const growing = await runtime.takes.start(orla, { source: "voice", title: "Sill", audience: "owner" });
    await runtime.films.ask(growing.recordingId);
    await runtime.films.make(growing.recordingId, NEVER);
    expect(await runtime.films.of(growing.recordingId)).toEqual({ state: "waiting", done: 0 });
  }, 60_000);
});

describe("having it", () => {
  it("is for its owner, and for others where that is allowed, whole or in parts", async () => {
    const take = await recorded({ screen: "numbered", microphone: "chirp" }, 4);
    const film = await filmOf(take);
    const get = (person: string, init: RequestInit = {}, token = take.token) =>
      fetch(`${server.base}/w/${token}/film`, { ...init, headers: { "x-person": person, ...init.headers } });
    const mine = await get("orla");
    expect(mine.status).toBe(200);
    expect(mine.headers.get("content-type")).toBe("video/mp4");
    expect(mine.headers.get("content-disposition")).toBe('attachment; filename="How the ridge vent closes.mp4"');
    expect(Buffer.from(await mine.arrayBuffer())).toEqual(film);
    const part = await get("orla", { headers: { range: "bytes=100-199" } });
    expect([part.status, part.headers.get("content-range")]).toEqual([206, `bytes 100-199/${film.length}`]);
    expect(Buffer.from(await part.arrayBuffer())).toEqual(film.subarray(100, 200));
    expect((await get("orla", { headers: { range: `bytes=${film.length}-` } })).status).toBe(416);
    const known = { "if-none-match": mine.headers.get("etag")! };
    expect((await get("orla", { headers: known })).status).toBe(304);
    const head = await get("orla", { method: "HEAD" });
    expect([head.status, head.headers.get("content-length")]).toEqual([200, String(film.length)]);
    expect((await get("orla", { method: "POST" })).status).toBe(405);

    // To others there is nothing, in the same words as where there is no recording at all.
    await runtime.sharing.change(orla, take.recordingId, { audience: "anyone" });
    const nothing = await get("bram", {}, "nothing-is-there-at-all");
    for (const person of ["bram", "nobody"]) {
      const refused = await get(person);
      expect([refused.status, await refused.text()]).toEqual([404, await nothing.clone().text()]);
    }
    await runtime.sharing.change(orla, take.recordingId, { downloads: true });
    for (const person of ["bram", "nobody"]) expect((await get(person)).status).toBe(200);
    await runtime.sharing.change(orla, take.recordingId, { endsAt: new Date(Date.now() - 1000) });
    expect((await get("bram")).status).toBe(404);
    // A name with letters of other scripts (RFC 8187).
    await runtime.db.models.Recording.update({ title: 'Şerit "a/b"' }, { where: { id: take.recordingId } });
    await filmOf(take);
    expect((await get("orla")).headers.get("content-disposition")).toMatch(/filename\*=UTF-8''%C5%9Eerit%20/);
  }, 60_000);

  it("is nothing for what is not asked for by its name", async () => {
    expect(await runtime.films.of(randomUUID())).toEqual({ state: "none" });
    await runtime.films.make(randomUUID(), NEVER);
  });
});
