import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import { feedTake, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import { SAVE_LOOKS } from "../editing/sql";
import type { Runtime } from "../runtime";
import { consentForm } from "./forms";
import { glanceOf } from "./glance";

const S = 1_000_000;
const STRIP = { width: 160, height: 90, columns: 10 };
let runtime: Runtime;
let suri: SignedIn;
let id: string;
let takeId: string;
// Without workers: what is known of a take is put there here.
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"), { ROLE: "web" });
  suri = await newMember(runtime, "Suri Vale");
});
beforeEach(async () => {
  const tracks = { screen: "screen", microphone: "microphone" } as const;
  ({ recordingId: id, takeId } = await feedTake(runtime, suri, "screen", tracks, 8));
});
afterAll(() => runtime.close());

/** A take of which pictures are known at these seconds, and which changes at these. */
const known = (pictures: number[] | null, changes: [number, number][]) =>
  runtime.db.rows(SAVE_LOOKS, [
    takeId,
    ...[null, null],
    pictures && JSON.stringify({ at: pictures.map((s) => s * S), ...STRIP }),
    pictures && Buffer.from("a strip"),
    JSON.stringify({}),
    JSON.stringify(changes.map(([at, share]) => ({ at: at * S, share }))),
  ]);
const glance = async () => glanceOf(runtime, (await runtime.access.byId(id))!);

describe("what is looked at before others see it", () => {
  it("is not whole while a take has not been looked over", async () => {
    const faces = [{ of: "screen", url: expect.stringContaining("/screen") as string, at: [] }];
    expect(await glance()).toEqual({ sights: [], more: 0, cameras: 0, faces, whole: false });
  });

  it("is how it begins, and where the screen becomes another one, each with the picture that stands there then", async () => {
    await known(
      [0, 2, 4, 6],
      [
        [1, 0.3],
        [4, 0.8],
        [7, 0.2],
      ].map(([a, b]) => [a!, b!]),
    );
    const { sights, faces, ...rest } = await glance();
    expect(rest).toEqual({ more: 0, cameras: 0, whole: true });
    expect(faces.map(({ at }) => at)).toEqual([sights.map(({ at }) => at)]);
    expect(sights.map(({ at, picture }) => [at / S, picture!.n])).toEqual([
      [0, 0],
      [1, 1],
      [4, 2],
      [7, 3],
    ]);
    expect(sights[0]!.picture).toEqual({ position: 1, n: 0, strip: STRIP });
  });

  it("is nothing that was cut out, and has the moments of what is shown", async () => {
    await known(
      [0, 2, 4, 6],
      [
        [3, 0.9],
        [6, 0.9],
      ],
    );
    const { revision } = await runtime.editing.stretches(id);
    const cut = { do: "leave-out" as const, from: 2 * S, to: 4 * S };
    await runtime.editing.change(id, cut, revision);
    expect((await glance()).sights.map(({ at }) => at / S)).toEqual([0, 4]);
  });

  it("of very many changes is the greatest", async () => {
    const many = Array.from({ length: 100 }, (_, n): [number, number] => [n / 20, n % 2 === 0 ? 0.9 : 0.1]);
    await known([0], many);
    const { sights, more } = await glance();
    expect([sights.length, more]).toEqual([60, 41]);
    expect(sights.map(({ at }) => at)).toEqual(sights.map(({ at }) => at).sort((a, b) => a - b));
    expect(sights.filter(({ at }) => ((at / S) * 20) % 2 === 0).length).toBeGreaterThanOrEqual(50);
  });

  it("says how many cameras there are, and needs no pictures", async () => {
    const tracks = { camera: "camera", "camera-2": "camera", microphone: "microphone" } as const;
    ({ recordingId: id, takeId } = await feedTake(runtime, suri, "camera", tracks, 4));
    await known(null, []);
    const { faces, ...rest } = await glance();
    expect(rest).toEqual({ sights: [], more: 0, cameras: 2, whole: true });
    // Of the camera that is shown, all along, in what is published.
    expect(faces.map(({ of, at }) => [of, at.map((moment) => Math.floor(moment / S))])).toEqual([
      ["camera", [0, 1, 2, 2, 3]],
    ]);
    const { revision } = await runtime.editing.stretches(id);
    await runtime.editing.change(id, { do: "leave-out", from: 0, to: 2 * S }, revision);
    expect((await glance()).faces[0]!.at.every((moment) => moment < 2.1 * S)).toBe(true);
  });
});

describe("a note of who else is seen or heard", () => {
  const noted = async () => (await runtime.sharing.of(id)).consent;
  const note = (who: string, agreed: boolean) => runtime.sharing.noteConsent(suri, id, { who, agreed });
  it("is kept, with the day since which they agree", async () => {
    expect(await noted()).toEqual({ who: "", agreedAt: null });
    await note("Hester Quill", false);
    expect(await noted()).toEqual({ who: "Hester Quill", agreedAt: null });
    await note("Hester Quill", true);
    const { agreedAt } = await noted();
    expect(Date.now() - Date.parse(agreedAt!)).toBeLessThan(60_000);
    await note("Hester Quill", true);
    expect((await noted()).agreedAt).toBe(agreedAt);
    // Others are asked anew.
    await note("Hester Quill, Tom Reed", true);
    expect((await noted()).agreedAt).not.toBe(agreedAt);
    await note("", false);
    expect(await noted()).toEqual({ who: "", agreedAt: null });
  });

  it("is their sender's alone, and needs somebody who agrees", async () => {
    const bram = await newMember(runtime, "Bram Lark");
    await expect(runtime.sharing.noteConsent(bram, id, { who: "X", agreed: true })).rejects.toMatchObject({
      status: 404,
    });
    await note("", true);
    expect(await noted()).toEqual({ who: "", agreedAt: null });
    expect(consentForm.others.validate("x".repeat(301)).error?.details[0]?.type).toBe("string.max");
    expect(consentForm.others.validate("  Hester\0 ").value).toBe("Hester");
  });
});
