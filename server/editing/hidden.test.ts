import { randomUUID } from "node:crypto";
import { afterAll, beforeAll, describe, expect, inject, it, vi } from "vitest";
import { USUAL_ARRANGEMENT } from "#core/layout/layout";
import { alone, sceneOf, type Scene } from "#core/layout/scene";
import type { Dress } from "#core/recipe/dress";
import { momentOf } from "#core/recipe/frames";
import { SECOND } from "#core/time/micros";
import { decodeComplaints, pictureNumbers, probePackets, soundSamples } from "../../testing/media";
import { feed, freshRuntime, newMember, serve } from "../../testing/server";
import { sharedRecording, watching } from "../../testing/shared";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import { putEntries } from "../recordings/entries";
import type { Runtime } from "../runtime";

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

const { get, playlist, played } = watching(() => server.base);
const published = (id: string, revision: number) =>
  vi.waitUntil(async () => (await runtime.editing.stretches(id)).revision === revision, 60_000);
async function publish(recording: KnownRecording, dress: Dress): Promise<number> {
  const { kept, revision } = await runtime.editing.stretches(recording.id);
  await runtime.editing.ask(recording.id, { kept, dress, seen: revision });
  await published(recording.id, revision + 1);
  return revision + 1;
}
const RATE = 48_000;
const rms = (samples: Float32Array, from: number, to: number) => {
  const part = samples.subarray(Math.round(from * RATE), Math.round(to * RATE));
  return Math.sqrt(part.reduce((sum, x) => sum + x * x, 0) / part.length);
};

describe("a voice that is made silent", () => {
  it.each(["chirp", "chirp-opus"] as const)(
    "%s: nothing of it is served, and the rest is as it was",
    async (kind) => {
      const recording = await sharedRecording(runtime, orla, "voice", { microphone: kind }, 10);
      const whole = (await played(recording, "r1/microphone.m3u8")).file;
      const before = soundSamples(whole);
      const [from, to] = [3.3 * SECOND, 6.7 * SECOND];
      const revision = await publish(recording, { louder: { [from]: { from, to, by: { microphone: -60 } } } });
      const { file } = await played(recording, `r${revision}/microphone.m3u8`);
      // Outside check: ffmpeg decodes it, and counts as many packets as before.
      expect(decodeComplaints(file)).toBe("");
      expect(probePackets(file).packets).toBe(probePackets(whole).packets);
      const after = soundSamples(file);
      expect(after.subarray(3.3 * RATE, 6.7 * RATE).reduce((most, x) => Math.max(most, Math.abs(x)), 0)).toBeLessThan(
        1e-4,
      );
      expect(rms(before, 4, 5)).toBeGreaterThan(0.2);
      for (const [a, b] of [
        [1, 3.2],
        [6.8, 9.5],
      ] as const)
        expect(rms(after, a, b)).toBeCloseTo(rms(before, a, b), 2);
      // Loud again, it is what was recorded.
      const again = await publish(recording, {});
      expect(soundSamples((await played(recording, `r${again}/microphone.m3u8`)).file)).toEqual(before);
    },
    60_000,
  );
});

describe("what a scene has hidden while it was recorded", () => {
  it("is cut off to the picture when the take is whole, however short, and none of it is served", async () => {
    const { takeId, recordingId, token } = await runtime.takes.start(orla, {
      source: "screen-camera",
      title: "Hidden",
      audience: "anyone",
    });
    const inset = sceneOf({ width: 640, height: 360 }, USUAL_ARRANGEMENT);
    const scenes: [number, Scene][] = [
      [0, inset],
      [momentOf(64) + 9_000, { ...alone("camera"), fade: 0 }],
      [momentOf(122) + 9_000, { ...inset, fade: 0 }],
      [momentOf(200), { ...alone("screen"), fade: 0 }],
    ];
    await putEntries(
      runtime.db,
      takeId,
      scenes.map(([at, body]) => ({ id: randomUUID(), version: 1, kind: "scene", at, body })),
    );
    await feed(runtime, takeId, { screen: "numbered", camera: "numbered", microphone: "chirp" }, 8);
    await published(recordingId, 2);
    expect(await runtime.editing.state(recordingId)).toMatchObject({ state: "published", byItself: true });
    const recording = (await runtime.access.byToken(token))!;
    const screen = await played(recording, "r2/screen.m3u8");
    const camera = await played(recording, "r2/camera.m3u8");
    const numbers = (from: number, to: number) => Array.from({ length: to - from }, (_, n) => from + n);
    // What is seen at each end of a scene: the picture that stands there when it begins, and none that comes after.
    const shown = (file: Uint8Array) => [...new Set(pictureNumbers(file))];
    expect(shown(screen.file)).toEqual([...numbers(0, 65), ...numbers(122, 240)]);
    expect(shown(camera.file)).toEqual(numbers(0, 200));
    // Outside check: another reader of playlists finds the hole where it is.
    let at = 0;
    const gaps = (await playlist(recording, "r2/screen.m3u8")).segments.flatMap(({ duration, gap }) => {
      at += duration;
      return gap ? [[at - duration, at]] : [];
    });
    expect(gaps).toHaveLength(1);
    expect(gaps[0]![0]).toBeCloseTo(65 / 30, 2);
    expect(gaps[0]![1]).toBeCloseTo(122 / 30, 2);
    const playable = (await runtime.playback.playable(recordingId, token))!;
    const [first, second] = playable.layers.find(({ name }) => name === "screen")!.spans!;
    expect([first, second!.from]).toEqual([{ from: 0, to: momentOf(64) + 9_000 }, momentOf(122) + 9_000]);
    expect((await get(recording, "r1/screen/2.m4s")).status).toBe(404);
    // Whoever has seen the revision before has seen the same, and changes it without being told of another window.
    const { kept } = await runtime.editing.stretches(recordingId);
    await runtime.editing.ask(recordingId, { kept: [{ from: 0, to: momentOf(150) }], seen: 1 });
    await published(recordingId, 3);
    await expect(runtime.editing.ask(recordingId, { kept, seen: 1 })).rejects.toMatchObject({ status: 409 });
  }, 60_000);

  it("changes nothing where everything is seen all the time", async () => {
    const { takeId, recordingId } = await runtime.takes.start(orla, {
      source: "screen-camera",
      title: "Seen",
      audience: "anyone",
    });
    await feed(runtime, takeId, { screen: "screen", camera: "camera" }, 4);
    await vi.waitUntil(async () => (await runtime.looks.of(recordingId))[0]!.made, 30_000);
    expect((await runtime.editing.stretches(recordingId)).revision).toBe(1);
  });
});
