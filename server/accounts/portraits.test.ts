import sharp from "sharp";
import { afterAll, beforeAll, beforeEach, describe, expect, inject, it } from "vitest";
import { Browser, sharedRecording } from "../../testing/answers";
import { codeOf, colleagueOf, freshRuntime, newMember } from "../../testing/server";
import type { Runtime } from "../runtime";
import { PORTRAIT_SIZE } from "./portraits";
import type { SignedIn } from "./sessions";

let runtime: Runtime;
let suri: SignedIn;
let token: string;
beforeAll(async () => (runtime = await freshRuntime(inject("databaseUrl"))));
beforeEach(async () => {
  suri = await newMember(runtime, "Suri Vale");
  token = await runtime.sessions.start(suri.id);
});
afterAll(() => runtime.close());

/** Red with a blue middle. */
const picture = async (width: number, height: number) => {
  const middle = await sharp({ create: { width: 40, height: 40, channels: 3, background: "#0000ff" } })
    .png()
    .toBuffer();
  return sharp({ create: { width, height, channels: 3, background: "#ff0000" } })
    .composite([{ input: middle, gravity: "centre" }])
    .jpeg()
    .toBuffer();
};
const named = async () => (await runtime.sessions.member(token))!.portrait;

describe("a portrait", () => {
  it("has the shape of an arch, cut around its middle, whatever shape was sent", async () => {
    for (const [width, height] of [
      [800, 200],
      [90, 300],
    ] as const) {
      await runtime.portraits.put(suri, await picture(width, height));
      const made = sharp((await runtime.portraits.bytes((await named())!))!);
      expect(await made.metadata()).toMatchObject({ ...PORTRAIT_SIZE, format: "webp" });
      const { data, info } = await made.raw().toBuffer({ resolveWithObject: true });
      const at = (Math.floor(info.height / 2) * info.width + Math.floor(info.width / 2)) * info.channels;
      expect(data[at + 2]! > 200 && data[at]! < 60).toBe(true);
    }
  });

  it("is known at the next request, stands at their comments and in the list of people, and can be taken off", async () => {
    const bram = await colleagueOf(runtime, suri);
    const recording = await sharedRecording(runtime, bram);
    const said = await new Browser(runtime, recording, suri).visit();
    await said.say({ do: "comment", body: "Half an inch.", at: 0, until: null });
    const shown = async () => [
      await named(),
      (await runtime.comments.list(recording.id))[0]!.portrait,
      (await runtime.workspaces.people(suri)).find(({ id }) => id === suri.id)!.portrait,
    ];
    expect(await shown()).toEqual([null, null, null]);
    await runtime.portraits.put(suri, await picture(300, 300));
    const [digest, ...others] = await shown();
    expect(digest).toMatch(/^[\da-f]{16}$/);
    expect(others).toEqual([digest, digest]);
    await runtime.portraits.drop(suri);
    expect(await shown()).toEqual([null, null, null]);
    expect(await runtime.portraits.bytes(digest!)).toBeNull();
  });

  it("does not stand beside words that were brought in from elsewhere", async () => {
    const recording = await sharedRecording(runtime, suri);
    await runtime.portraits.put(suri, await picture(300, 300));
    const said = await new Browser(runtime, recording, suri).visit();
    await said.say({ do: "comment", body: "Mine", at: 0, until: null });
    await runtime.db.rows("update comments set imported_from = 'Ida Crake' where recording_id = $1 returning id", [
      recording.id,
    ]);
    expect((await runtime.comments.list(recording.id)).map(({ name, portrait }) => [name, portrait])).toEqual([
      ["Ida Crake", null],
    ]);
  });

  it("is a picture", async () => {
    expect(await codeOf(runtime.portraits.put(suri, Buffer.from("GIF89a")))).toBe("no-picture");
    expect(await named()).toBeNull();
  });

  it.each(["../account", "0123456789abcdef", "' or 1=1", "a".repeat(400)])(
    "is none that is called %s",
    async (name) => {
      expect(await runtime.portraits.bytes(name)).toBeNull();
    },
  );
});
