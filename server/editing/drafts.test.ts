import { execFileSync } from "node:child_process";
import { randomUUID } from "node:crypto";
import { mkdtempSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import { LEVELS_A_SECOND } from "#core/audio/pauses";
import { frameAt, momentOf } from "#core/recipe/frames";
import { act, begun, shownBy, type History } from "#core/recipe/history";
import { startOfTake } from "#core/recipe/source-line";
import type { Range } from "#core/time/ranges";
import { decodeComplaints, makeTrack, pictureNumbers } from "../../testing/media";
import { codeOf, colleagueOf, feed, freshRuntime, newMember, serve } from "../../testing/server";
import { sharedRecording, watching } from "../../testing/shared";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import { sweepStorage } from "../jobs/sweep-storage";
import type { Runtime } from "../runtime";
import { clearEdges } from "./edges";

const SECONDS = 9;
let runtime: Runtime;
let server: Awaited<ReturnType<typeof serve>>;
let orla: SignedIn;
let recording: KnownRecording;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  const bram = await colleagueOf(runtime, orla);
  server = await serve(
    runtime,
    new Map([
      ["orla", orla],
      ["bram", bram],
    ]),
  );
  recording = await sharedRecording(runtime, orla, "screen", { screen: "numbered", microphone: "chirp" }, SECONDS);
});
afterAll(async () => {
  await server.close();
  await runtime.close();
});

const cut = (from: number, to: number): Range => ({ from: momentOf(from), to: momentOf(to) });
/** An edit that leaves out so many stretches of frames. */
async function edited(...cuts: [number, number][]): Promise<{ history: History; revision: number }> {
  const { kept, dress, takes, revision } = await runtime.editing.stretches(recording.id);
  const history = cuts.reduce(
    (so, [from, to]) => act(so, shownBy(so), { do: "leave-out", ...cut(from, to) }, takes),
    begun({ kept, dress }),
  );
  return { history, revision };
}
const edges = () =>
  runtime.db.rows<{ count: number }>("select count(*)::int as count from edges").then((r) => r[0]!.count);
/** The jobs of all drafts so far are done, of those that were thrown away as well. */
const prepared = () =>
  vi.waitUntil(
    async () =>
      (
        await runtime.db.rows(
          "select id from jobs.job where name = 'prepare' and state in ('created', 'retry', 'active')",
        )
      ).length === 0,
    { timeout: 60_000 },
  );
const settled = () =>
  vi.waitUntil(async () => (await runtime.editing.state(recording.id))!.state !== "waiting", { timeout: 60_000 });

describe("a draft", () => {
  it("is saved over the version that was seen, and over no other", async () => {
    const { history, revision } = await edited([30, 60]);
    const save = (version: number, what: unknown = history) =>
      runtime.drafts.save(recording.id, { version, seen: revision, history: what });
    expect(await save(0)).toBe(1);
    expect([await codeOf(save(0)), await codeOf(save(2))]).toEqual(["other-draft", "other-draft"]);
    // A window that did not hear that it was taken goes on over it; another one does not.
    const [mine, other] = [randomUUID(), randomUUID()];
    const by = (window: string, version: number, nth: number) =>
      runtime.drafts.save(recording.id, { version, seen: revision, history, by: window, nth });
    await runtime.drafts.drop(recording.id, 1);
    expect([await by(mine, 0, 1), await by(mine, 0, 3), await codeOf(by(other, 1, 1))]).toEqual([1, 2, "other-draft"]);
    // What it had sent before that, and what was on its way for long, replaces nothing.
    expect(await codeOf(by(mine, 0, 2))).toBe("other-draft");
    await runtime.drafts.drop(recording.id, 2);
    expect(await save(0)).toBe(1);
    const both = await Promise.all([codeOf(save(1)), codeOf(save(1))]);
    expect(both.sort()).toEqual(["done", "other-draft"]);
    expect(await runtime.drafts.of(recording.id)).toEqual({ version: 2, seen: revision, history });
    for (const wrong of [null, {}, { ...history, base: [] }, { ...history, done: [...history.done, ...history.done] }])
      expect(await codeOf(save(2, wrong))).toBe("no-history");
    expect(await codeOf(runtime.drafts.drop(recording.id, 1))).toBe("other-draft");
    await runtime.drafts.drop(recording.id, 2);
    await runtime.drafts.drop(recording.id, 2);
    expect(await runtime.drafts.of(recording.id)).toBeNull();
  });

  it("has its edges made while nobody waits, and is published as it was saved", async () => {
    const { history, revision } = await edited([37, 71], [140, 171]);
    const version = await runtime.drafts.save(recording.id, { version: 0, seen: revision, history });
    // Of two tracks, each cut has an end and a beginning; the sound's are cut as well.
    await vi.waitUntil(async () => (await edges()) >= 8, { timeout: 60_000 });
    await prepared();
    const made = await edges();
    expect(await codeOf(runtime.drafts.publish(recording.id, { version: version + 1, seen: revision }))).toBe(
      "other-draft",
    );
    await runtime.drafts.publish(recording.id, { version, seen: revision });
    await settled();
    expect(await runtime.editing.state(recording.id)).toMatchObject({ state: "published" });
    expect(await edges()).toBe(made);
    expect(await codeOf(runtime.drafts.publish(recording.id, { version, seen: revision }))).toBe("changed-meanwhile");
  });

  it("makes sounds louder without touching them, until another deed says otherwise", async () => {
    const { kept, dress, takes, revision } = await runtime.editing.stretches(recording.id);
    const shown = { kept, dress };
    const history = act(
      begun(shown),
      shown,
      { do: "dress", puts: [{ facet: "gains", id: "microphone", value: 4.5 }] },
      takes,
    );
    const { version } = (await runtime.drafts.of(recording.id))!;
    const saved = await runtime.drafts.save(recording.id, { version, seen: revision, history });
    const { bytesOf } = watching(() => server.base);
    const before = await bytesOf(recording, `r${revision}/microphone/2.m4s`);
    await runtime.drafts.publish(recording.id, { version: saved, seen: revision });
    await settled();
    const gain = async () =>
      (await runtime.playback.playable(recording.id, recording.token))!.layers.map((layer) => [layer.name, layer.gain]);
    expect(await gain()).toEqual([
      ["microphone", 4.5],
      ["screen", undefined],
    ]);
    expect(await bytesOf(recording, `r${revision + 1}/microphone/2.m4s`)).toEqual(before);
    // A cut keeps it.
    await runtime.editing.change(recording.id, { do: "leave-out", ...cut(10, 20) }, revision + 1);
    await settled();
    expect((await gain())[0]).toEqual(["microphone", 4.5]);
  });

  it("that nothing can be made of is kept, and is no failure", async () => {
    const far: Range = { from: startOfTake(1) + momentOf(9_000), to: startOfTake(1) + momentOf(9_030) };
    const { version } = (await runtime.drafts.of(recording.id))!;
    const { revision } = await runtime.editing.stretches(recording.id);
    const saved = await runtime.drafts.save(recording.id, {
      version,
      seen: revision,
      history: begun({ kept: [far], dress: {} }),
    });
    expect(await codeOf(runtime.drafts.publish(recording.id, { version: saved, seen: revision }))).toBe(
      "no-such-stretch",
    );
  });
});

describe("edges that were only looked at", () => {
  it("are forgotten after a day, and those that a revision plays are not", async () => {
    const { version } = (await runtime.drafts.of(recording.id))!;
    const { revision } = await runtime.editing.stretches(recording.id);
    const IN_TWO_DAYS = Date.now() + 2 * 24 * 3600 * 1000;
    // Of what was tried before some may be made that nothing plays.
    await prepared();
    await clearEdges(runtime.db, IN_TWO_DAYS);
    const before = await edges();
    const { history } = await edited([201, 222]);
    await runtime.drafts.save(recording.id, { version, seen: revision, history });
    await vi.waitUntil(async () => (await edges()) >= before + 4, { timeout: 60_000 });
    await prepared();
    const objects = async () => {
      const keys: string[] = [];
      for await (const { key } of runtime.storage.list("takes")) if (/\/-\d+-/.test(key)) keys.push(key);
      return keys.length;
    };
    expect([await clearEdges(runtime.db), await edges()]).toEqual([0, before + 4]);
    expect([await clearEdges(runtime.db, IN_TWO_DAYS), await edges()]).toEqual([4, before]);
    await sweepStorage(runtime.db, runtime.storage, IN_TWO_DAYS);
    expect(await objects()).toBe(before);
    const { played } = watching(() => server.base);
    expect(decodeComplaints((await played(recording, `r${revision}/screen.m3u8`)).file)).toBe("");
  });
});

describe("what an owner chooses", () => {
  const number = async () => {
    let key: string | null = null;
    await vi.waitUntil(
      async () => (key = (await runtime.db.models.Recording.findByPk(recording.id))!.posterKey) !== null,
      { timeout: 30_000 },
    );
    const picture = sharp(await runtime.storage.get(key!));
    const { width, height } = await picture.metadata();
    // One row of the middle: the picture fills its poster.
    const row = await picture
      .extract({ left: 0, top: Math.floor(height / 2), width, height: 1 })
      .greyscale()
      .resize(16, 1, { fit: "fill", kernel: "nearest" })
      .raw()
      .toBuffer();
    return [...row].reduce((sum, bar, bit) => sum + (bar > 117 ? 2 ** bit : 0), 0);
  };

  it("is the picture of that moment for a poster, as long as it is shown", async () => {
    await runtime.posters.choose(orla, recording.id, momentOf(100));
    expect(await number()).toBe(100);
    // Left out of what is published.
    await runtime.posters.choose(orla, recording.id, momentOf(150));
    expect(await number()).not.toBe(150);
    await runtime.posters.choose(orla, recording.id, null);
    await number();
    expect((await runtime.library.written(recording.id)).posterAt).toBeNull();
    const stranger = await newMember(runtime, "Wren Thistle");
    expect(await codeOf(runtime.posters.choose(stranger, recording.id, 0))).toBe("not-found");
  });

  it("is other chapters, never over those that another window has written", async () => {
    const [first, second] = [
      { at: momentOf(90), title: "The bar" },
      { at: momentOf(30), title: "The pane" },
    ];
    await runtime.library.setChapters(orla, recording.id, [first, second], []);
    expect((await runtime.library.written(recording.id)).chapters).toEqual([second, first]);
    // The same again, after an answer that was lost, is what was wanted.
    await runtime.library.setChapters(orla, recording.id, [second, first], []);
    expect(await codeOf(runtime.library.setChapters(orla, recording.id, [first], []))).toBe("changed-meanwhile");
    await runtime.library.setChapters(orla, recording.id, [], [second, first]);
    expect((await runtime.library.written(recording.id)).chapters).toEqual([]);
  });
});

describe("everything as it was recorded", () => {
  const ask = (path: string, person = "") =>
    fetch(`${server.base}/recordings/${recording.id}/recorded/${path}`, { headers: { "x-person": person } });

  it("is there for whoever may change what is shown, whatever is left out, and for nobody else", async () => {
    await runtime.editing.recorded(recording.id);
    const playable = (await runtime.playback.recorded(recording.id))!;
    expect(playable.layers.map(({ role, url }) => [role, url])).toEqual([
      ["voice", `/recordings/${recording.id}/recorded/microphone.m3u8`],
      ["main", `/recordings/${recording.id}/recorded/screen.m3u8`],
    ]);
    const list = await (await ask("screen.m3u8", "orla")).text();
    const files = list.match(/screen\/[\w.-]+/g)!;
    const parts = await Promise.all(
      files.map(async (file) => Buffer.from(await (await ask(file, "orla")).arrayBuffer())),
    );
    expect(pictureNumbers(Buffer.concat(parts))).toEqual(Array.from({ length: 30 * SECONDS }, (_, n) => n));
    for (const path of ["screen.m3u8", "main.m3u8", ...files])
      for (const person of ["", "bram"]) expect([path, (await ask(path, person)).status]).toEqual([path, 404]);
    expect((await ask("screen/99.m4s", "orla")).status).toBe(404);
  });

  it("cannot be reached at the link, by whatever number", async () => {
    const { get } = watching(() => server.base);
    const { revision } = await runtime.editing.stretches(recording.id);
    for (const number of [0, 1, "00", revision + 1, "recorded"])
      for (const path of ["screen.m3u8", "main.m3u8", "screen/1.m4s", "screen/init.mp4"])
        expect((await get(recording, `r${number}/${path}`)).status).not.toBe(200);
    expect((await get(recording, `r${revision}/screen.m3u8`)).status).toBe(200);
  });

  it("has another take as well when that is here, and what is published stays what it is", async () => {
    const before = await runtime.editing.stretches(recording.id);
    const made = makeTrack("numbered", SECONDS).segments.length;
    const { takeId } = await runtime.takes.another(recording.id, "screen");
    expect(await codeOf(runtime.editing.recorded(recording.id))).toBe("take-open");
    await feed(runtime, takeId, { screen: "numbered", microphone: "chirp" }, SECONDS);
    await runtime.editing.recorded(recording.id);
    await runtime.editing.recorded(recording.id);
    const list = await (await ask("screen.m3u8", "orla")).text();
    expect(list.match(/m4s/g)!.length).toBe(2 * made);
    const after = await runtime.editing.stretches(recording.id);
    expect(after.revision).toBe(before.revision + 1);
    const numbers = await runtime.db.rows<{ number: number }>(
      "select number from revisions where recording_id = $1 order by number",
      [recording.id],
    );
    expect(numbers.map((row) => row.number)[0]).toBe(0);
  });
});

describe("what a take looks and sounds like", () => {
  it("is made when it is whole, of all of it", async () => {
    await vi.waitUntil(async () => (await runtime.looks.of(recording.id)).every(({ made }) => made), {
      timeout: 60_000,
    });
    const [look] = await runtime.looks.of(recording.id);
    expect(look).toMatchObject({ position: 1, hasVoice: true, hasSound: false });
    const { at, width, height, columns } = look!.pictures!;
    const strip = (await runtime.looks.bytes(recording.id, 1, "strip"))!;
    const told = await sharp(strip).metadata();
    expect([told.width, told.height]).toEqual([columns * width, Math.ceil(at.length / columns) * height]);
    // The number that is drawn in the picture is the one that was recorded at its moment.
    for (const [i, moment] of at.entries()) {
      const bars = await sharp(strip)
        .extract({ left: (i % columns) * width, top: Math.floor(i / columns) * height, width, height })
        .greyscale()
        .resize(16, 1, { fit: "fill", kernel: "nearest" })
        .raw()
        .toBuffer();
      const number = [...bars].reduce((sum, bar, bit) => sum + (bar > 117 ? 2 ** bit : 0), 0);
      expect(momentOf(number)).toBe(moment);
    }
    // Another number is another picture, by as much as its bars are others.
    const shares = at.slice(1).map((moment, i) => {
      const [a, b] = [frameAt(at[i]!), frameAt(moment)];
      return { at: moment, share: (a ^ b).toString(2).replaceAll("0", "").length / 16 };
    });
    const { changes } = look!;
    expect(changes.map((change) => change.at)).toEqual(shares.filter(({ share }) => share > 0.1).map((s) => s.at));
    for (const { at, share } of changes)
      expect(Math.abs(share - shares.find((s) => s.at === at)!.share)).toBeLessThan(0.06);
  });

  it("is as loud as ffmpeg says", async () => {
    const levels = new Int8Array((await runtime.looks.bytes(recording.id, 1, "voice"))!);
    expect(Math.abs(levels.length - SECONDS * LEVELS_A_SECOND)).toBeLessThanOrEqual(4);
    const mean = 10 * Math.log10(levels.reduce((sum, level) => sum + 10 ** (level / 10), 0) / levels.length);
    // Outside check: the mean volume of the same sound by ffmpeg's filter `volumedetect`.
    const { played } = watching(() => server.base);
    const whole = await newest();
    const file = join(mkdtempSync(join(tmpdir(), "voice-")), "voice.mp4");
    writeFileSync(file, (await played(recording, `r${whole}/microphone.m3u8`)).file);
    const said = execFileSync("sh", ["-c", `ffmpeg -i ${file} -af volumedetect -f null - 2>&1`]).toString();
    expect(Math.abs(mean - Number(/mean_volume: (-[\d.]+)/.exec(said)![1]))).toBeLessThan(1);
    // And loudness and true peak by its `ebur128`. Its file is the two takes, which are the same.
    const heard = execFileSync("sh", ["-c", `ffmpeg -i ${file} -af ebur128=peak=true -f null - 2>&1`]).toString();
    const [look] = await runtime.looks.of(recording.id);
    const { loudness, peak } = look!.measured.microphone!;
    const summary = heard.slice(heard.lastIndexOf("Summary"));
    expect(Math.abs(loudness! - Number(/I:\s+(-?[\d.]+) LUFS/.exec(summary)![1]))).toBeLessThan(0.5);
    expect(Math.abs(peak! - Number(/Peak:\s+(-?[\d.]+) dBFS/.exec(summary)![1]))).toBeLessThan(0.5);
  });

  const newest = async () => (await runtime.editing.stretches(recording.id)).revision;

  it("is made of VP9 and Opus, of a camera alone, and of a voice alone", async () => {
    for (const [source, tracks, has] of [
      ["screen", { screen: "numbered-vp9", microphone: "chirp-opus" }, [true, true]],
      ["camera", { camera: "camera" }, [true, false]],
      ["voice", { microphone: "chirp" }, [false, true]],
    ] as const) {
      const { id } = await sharedRecording(runtime, orla, source, tracks, 4);
      await vi.waitUntil(async () => (await runtime.looks.of(id)).every(({ made }) => made), { timeout: 60_000 });
      const [look] = await runtime.looks.of(id);
      expect([source, look!.pictures !== null, look!.hasVoice]).toEqual([source, ...has]);
      if (source !== "screen") expect(look!.changes).toEqual([]);
    }
  });

  it("is gone with its recording, and nothing is made of what is not there", async () => {
    const takes = (await runtime.looks.of(recording.id)).map((look) => look.takeId);
    await runtime.library.delete(orla, recording.id);
    await runtime.erase(recording.id);
    expect(await runtime.db.models.Look.count({ where: { takeId: takes } })).toBe(0);
    expect(await runtime.drafts.of(recording.id)).toBeNull();
    expect(await runtime.looks.of(recording.id)).toEqual([]);
    expect(await runtime.looks.bytes(recording.id, 1, "strip")).toBeNull();
  });
});
