import sharp from "sharp";
import { afterAll, beforeAll, describe, expect, inject, it } from "vitest";
import { codeOf, colleagueOf, databaseUrlOf, freshRuntime, newMember } from "../../testing/server";
import type { SignedIn } from "../accounts/sessions";
import { openRuntime, type Runtime } from "../runtime";
import { brandForms } from "./brands";

let runtime: Runtime;
let orla: SignedIn;
let bram: SignedIn;
beforeAll(async () => {
  runtime = await freshRuntime(inject("databaseUrl"));
  orla = await newMember(runtime, "Orla Fenn");
  bram = await colleagueOf(runtime, orla);
});
afterAll(() => runtime.close());

const picture = (width: number, height: number) =>
  sharp({ create: { width, height, channels: 4, background: { r: 200, g: 40, b: 40, alpha: 0.5 } } })
    .png()
    .toBuffer();

describe("how links of a workspace look", () => {
  it("is ours until something was chosen, and again afterwards", async () => {
    const { brands } = runtime;
    expect(await brands.of(orla.workspaceId)).toBeNull();
    await brands.choose(orla, { accent: "#1b4f8a", bar: null });
    expect(await brands.of(orla.workspaceId)).toMatchObject({
      name: orla.workspaceName,
      emblem: null,
      colors: { light: { accent: { main: "#1b4f8a" }, bar: null }, dark: { bar: null } },
    });
    expect(await brands.chosen(orla.workspaceId)).toMatchObject({ accent: "#1b4f8a", bar: null });
    await brands.choose(orla, { accent: null, bar: null });
    expect(await brands.of(orla.workspaceId)).toBeNull();
  });

  it("has an emblem that is made small, keeps what is clear, and is called by what it is", async () => {
    const { brands } = runtime;
    await brands.putEmblem(orla, await picture(960, 240));
    const { emblem } = (await brands.of(orla.workspaceId))!;
    expect(emblem).toMatchObject({ width: 480, height: 120 });
    const digest = emblem!.url.replace("/emblems/", "");
    const { format, hasAlpha } = await sharp((await brands.emblem(digest))!).metadata();
    expect([format, hasAlpha]).toEqual(["webp", true]);
    await brands.putEmblem(orla, await picture(300, 300));
    expect((await brands.of(orla.workspaceId))!.emblem!.url).not.toBe(emblem!.url);
    expect(await brands.emblem(digest)).toBeNull();
    await brands.dropEmblem(orla);
    expect(await brands.of(orla.workspaceId)).toBeNull();
  });

  it("is changed by owners alone, and is a picture", async () => {
    const { brands } = runtime;
    expect(await codeOf(brands.choose(bram, { accent: "#1b4f8a", bar: null }))).toBe("not-allowed");
    expect(await codeOf(brands.putEmblem(bram, await picture(10, 10)))).toBe("not-allowed");
    expect(await codeOf(brands.dropEmblem(bram))).toBe("not-allowed");
    expect(await codeOf(brands.putEmblem(orla, Buffer.from("<script>")))).toBe("no-picture");
    expect(await codeOf(brands.putEmblem(orla, new Uint8Array()))).toBe("no-picture");
  });

  it("is known in another process at once", async () => {
    const other = await openRuntime({ ...runtime.settings, role: "web" }, databaseUrlOf(runtime));
    try {
      expect(await other.brands.of(orla.workspaceId)).toBeNull();
      await runtime.brands.choose(orla, { accent: null, bar: "#5b2a6e" });
      await expect.poll(() => other.brands.of(orla.workspaceId)).not.toBeNull();
    } finally {
      await other.close();
    }
  });

  it.each(["..", "0123456789abcdef", "0123456789ABCDEF", "' or 1=1", "a".repeat(400)])(
    "has none called %s",
    async (name) => {
      expect(await runtime.brands.emblem(name)).toBeNull();
    },
  );
});

it.each([
  [
    { accent: "#1B4F8A", bar: "" },
    { accent: "#1b4f8a", bar: null },
  ],
  [{}, { accent: null, bar: null }],
])("takes the colours %o", (fields, value) => {
  expect(brandForms.brand.validate(fields).value).toEqual(value);
});
it.each(["red", "#12345", "#12345g", "url(x)", "#1234567"])("does not take %s for a colour", (bar) => {
  expect(brandForms.brand.validate({ bar }).error?.message).toBe("A colour is written as six digits, like #2f7d5b.");
});
