import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import { SUPPRESSED } from "#core/media/tracks";
import { act, begun, shownBy } from "#core/recipe/history";
import type { Put } from "#core/recipe/dress";
import { momentOf } from "#core/recipe/frames";
import { soundSamples } from "../../testing/media";
import { freshRuntime, newMember, serve } from "../../testing/server";
import { sharedRecording, watching } from "../../testing/shared";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Runtime } from "../runtime";
import { suppress } from "./suppress";

const SECONDS = 12;
const RATE = 48_000;
let runtime: Runtime;
let server: Awaited<ReturnType<typeof serve>>;
let orla: SignedIn;
let recording: KnownRecording;

beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime);
  server = await serve(runtime, new Map([["orla", orla]]));
  recording = await recorded("noisy");
});
afterAll(async () => {
  await server.close();
  await runtime.close();
});

const recorded = (voice: "noisy" | "noisy-opus") =>
  sharedRecording(runtime, orla, "screen", { screen: "numbered", microphone: voice }, SECONDS);
const { get, played } = watching(() => server.base);
const takenOut = (on: boolean): Put => ({ facet: "suppression", id: "microphone", value: on || null });

/** Saves a draft with these things, and publishes it. @returns the revision's number */
async function publish({ id }: KnownRecording, puts: Put[], cut?: { from: number; to: number }): Promise<number> {
  const { kept, dress, takes, revision } = await runtime.editing.stretches(id);
  let history = begun({ kept, dress });
  if (cut) history = act(history, shownBy(history), { do: "leave-out", ...cut }, takes);
  history = act(history, shownBy(history), { do: "dress", puts }, takes);
  const version = (await runtime.drafts.of(id))?.version ?? 0;
  const saved = await runtime.drafts.save(id, { version, seen: revision, history });
  await runtime.drafts.publish(id, { version: saved, seen: revision });
  await vi.waitUntil(async () => (await runtime.editing.state(id))!.state !== "waiting", 60_000);
  const state = await runtime.editing.state(id);
  expect(state).toMatchObject({ state: "published", problem: null });
  return (await runtime.editing.stretches(id)).revision;
}
const heard = async (of: KnownRecording, revision: number) =>
  soundSamples((await played(of, `r${revision}/microphone.m3u8`)).file);
const decibels = (samples: Float32Array) =>
  10 * Math.log10(samples.reduce((sum, v) => sum + v * v, 0) / samples.length + 1e-12);

/** By how many samples one sound is later than another: of all places the one that fits best. */
function lagOf(late: Float32Array, early: Float32Array): number {
  let best = { fit: -Infinity, lag: 0 };
  for (let lag = -1_500; lag <= 1_500; lag++) {
    let fit = 0;
    for (let i = 2 * RATE; i < 8 * RATE; i += 7) fit += late[i + lag]! * early[i]!;
    if (fit > best.fit) best = { fit, lag };
  }
  return best.lag;
}

describe("a voice without the noise around it", () => {
  it.each(["noisy", "noisy-opus"] as const)(
    "of %s is as loud, where it was, and still between the words",
    async (kind) => {
      const of = kind === "noisy" ? recording : await recorded(kind);
      const before = await heard(of, 1);
      const number = await publish(of, [takenOut(true)]);
      const after = await heard(of, number);
      expect(Math.abs(after.length - before.length)).toBeLessThan(2_048);
      // To half a millisecond: no step of it shifts the sound.
      expect(Math.abs(lagOf(after, before))).toBeLessThanOrEqual(24);
      const BLOCK = RATE / 10;
      const blocks = Array.from({ length: 10 * (SECONDS - 2) }, (_, i) => {
        const part = (samples: Float32Array) => decibels(samples.subarray((i + 10) * BLOCK, (i + 11) * BLOCK));
        return { before: part(before), after: part(after) };
      }).sort((a, b) => a.before - b.before);
      for (const quiet of blocks.slice(0, 4)) expect(quiet.after).toBeLessThan(quiet.before - 12);
      for (const loud of blocks.slice(-10)) expect(Math.abs(loud.after - loud.before)).toBeLessThan(1.5);
    },
  );

  it("is measured, heard by its owner while editing, and given to nobody beside what is published", async () => {
    const { id } = recording;
    const [look] = await runtime.looks.of(id);
    expect([look!.suppressed, look!.measured[SUPPRESSED]]).toEqual([
      "made",
      { loudness: expect.any(Number) as number, peak: expect.any(Number) as number },
    ]);
    await runtime.editing.recorded(id);
    for (const name of ["microphone", SUPPRESSED])
      expect(await runtime.playback.playlist(id, "recorded", name)).toContain("#EXT-X-ENDLIST");
    const { revision } = await runtime.editing.stretches(id);
    expect((await get(recording, `r${revision}/${SUPPRESSED}.m3u8`)).status).toBe(404);
    expect((await get(recording, `r${revision}/${SUPPRESSED}/1.m4s`)).status).toBe(404);
    const playable = (await runtime.playback.playable(id, recording.token))!;
    expect(playable.layers.map(({ name }) => name)).toEqual(["microphone", "screen"]);
  });

  it("is cut as any sound, and the voice as it was recorded comes back", async () => {
    const cut = { from: momentOf(90), to: momentOf(150) };
    const with2 = await heard(recording, await publish(recording, [takenOut(true)], cut));
    const raw = await heard(recording, await publish(recording, [takenOut(false)]));
    expect(Math.abs(with2.length - raw.length)).toBeLessThan(2_048);
    expect(Math.abs(raw.length / RATE - SECONDS + 2)).toBeLessThan(0.1);
    const quietest = (samples: Float32Array) =>
      Math.min(...Array.from({ length: 80 }, (_, i) => decibels(samples.subarray((i + 5) * 4_800, (i + 6) * 4_800))));
    expect(quietest(with2)).toBeLessThan(quietest(raw) - 12);
  });

  it("is made once; broken off it is made again; what has no sound that can be read is told", async () => {
    const of = await recorded("noisy");
    const take = (await runtime.db.models.Take.findOne({ where: { recordingId: of.id } }))!;
    const parts = { db: runtime.db, storage: runtime.storage, log: runtime.log };
    const tracks = () => runtime.db.models.Track.count({ where: { takeId: take.id, name: SUPPRESSED } });
    // Nobody wants it.
    await suppress(parts, take.id, new AbortController().signal);
    expect(await tracks()).toBe(0);
    await take.update({ suppressed: "wanted" });
    const ended = new AbortController();
    const broken = suppress(parts, take.id, ended.signal);
    setTimeout(() => ended.abort(new Error("ended")), 150);
    await expect(broken).rejects.toThrow();
    expect([await tracks(), (await take.reload()).suppressed]).toEqual([0, "wanted"]);
    await Promise.all([1, 2].map(() => suppress(parts, take.id, new AbortController().signal)));
    expect([await tracks(), (await take.reload()).suppressed]).toEqual([1, "made"]);

    const other = await recorded("noisy");
    const unread = (await runtime.db.models.Take.findOne({ where: { recordingId: other.id } }))!;
    const voice = (await runtime.db.models.Track.findOne({ where: { takeId: unread.id, name: "microphone" } }))!;
    await runtime.storage.put(voice.initKey, Buffer.from("nothing"));
    await unread.update({ suppressed: "wanted" });
    await suppress(parts, unread.id, new AbortController().signal);
    expect((await unread.reload()).suppressed).toBe("failed");
    const { kept, revision } = await runtime.editing.stretches(other.id);
    await runtime.editing.ask(other.id, { kept, dress: { suppression: { microphone: true } }, seen: revision });
    await vi.waitUntil(async () => (await runtime.editing.state(other.id))!.state !== "waiting", 30_000);
    expect((await runtime.editing.state(other.id))!.problem).toContain("noise cannot be taken out");
  });
});
