import sharp from "sharp";
import { describe, expect, it } from "vitest";
import { codeOf } from "../../testing/server";
import { safePicture } from "./safe-picture";

const drawn = (width: number, height: number, format: "png" | "jpeg" | "webp" | "gif" = "png") =>
  sharp({ create: { width, height, channels: 3, background: "#B4502D" } })
    .toFormat(format)
    .toBuffer();
const svg = (body: string, size = 'width="60" height="40"') =>
  Buffer.from(
    `<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" ${size}>${body}</svg>`,
  );
const mean = async (bytes: Buffer) => (await sharp(bytes).stats()).channels.slice(0, 3).map((c) => Math.round(c.mean));
const within = (bytes: Uint8Array, most: number, by = "orla") => safePicture(bytes, "webp", { within: most }, by);
const refused = (bytes: Uint8Array) => codeOf(within(bytes, 500));

describe("a picture that is sent", () => {
  it("is drawn anew, as small as it has to be, of every kind that is taken", async () => {
    for (const format of ["png", "jpeg", "webp"] as const) {
      const made = await within(await drawn(3_000, 1_500, format), 1_280);
      expect([made.width, made.height]).toEqual([1_280, 640]);
      expect(await sharp(made.bytes).metadata()).toMatchObject({ format: "webp", width: 1_280 });
    }
    // As a camera held it, and without where it was.
    const turned = await sharp(await drawn(40, 20))
      .withMetadata({ orientation: 6 })
      .withExif({ IFD0: { Copyright: "Orla Fenn" } })
      .jpeg()
      .toBuffer();
    const made = await safePicture(turned, "jpeg", { within: 900 }, "orla");
    expect([made.width, made.height]).toEqual([20, 40]);
    expect((await sharp(made.bytes).metadata()).exif).toBeUndefined();
    const cut = await safePicture(await drawn(500, 300), "webp", { fills: { width: 240, height: 276 } }, "orla");
    expect([cut.width, cut.height]).toEqual([240, 276]);
  });

  it("may be as large as a camera's, within what drawing it may cost", async () => {
    expect(await within(await drawn(8_000, 5_900, "jpeg"), 1_280)).toMatchObject({ width: 1_280, height: 944 });
  });

  it("is pixels alone when it was a drawing: no script, nothing from elsewhere", async () => {
    const hostile = svg(`<script>throw 1</script><rect width="60" height="40" fill="#2F7D5B" onload="x()"/>
      <image xlink:href="file:///etc/passwd" width="60" height="40"/><image href="http://127.0.0.1:9/x.png" width="60" height="40"/>`);
    const { bytes } = await within(hostile, 100);
    const colours = await mean(bytes);
    [47, 125, 91].forEach((value, i) => expect(Math.abs(colours[i]! - value)).toBeLessThan(4));
    expect(bytes.includes("script")).toBe(false);
  });

  it("costs little, whatever its few words ask for", async () => {
    const blur = '<filter id="f"><feGaussianBlur stdDeviation="99"/><feTurbulence numOctaves="99"/></filter>';
    const heavy = Array.from({ length: 40 }, () => '<rect width="2900" height="2900" filter="url(#f)"/>').join("");
    const embedded = `data:image/png;base64,${(await drawn(2_000, 2_000)).toString("base64")}`;
    const pictures = Array.from({ length: 4 }, () => `<image href="${embedded}" width="2900" height="2900"/>`).join("");
    const again = Array.from({ length: 25 }, (_, n) => `<g id="u${n + 1}">${`<use href="#u${n}"/>`.repeat(9)}</g>`);
    const uses = `<defs><rect id="u0" width="9" height="9"/>${again.join("")}</defs><use href="#u25"/>`;
    const dashes = '<path d="M0 0H100000000" stroke="red" stroke-dasharray="0.00001"/>';
    for (const [n, body] of [blur + heavy, pictures, uses, dashes].entries())
      expect(await within(svg(body, 'width="3000" height="3000"'), 100), String(n)).toMatchObject({
        width: 100,
        height: 100,
      });
  });

  it("is refused when it is none, damaged, or a bomb", async () => {
    expect(await refused(new Uint8Array())).toBe("no-picture");
    expect(await refused(Buffer.from("<html></html>"))).toBe("no-picture");
    expect(await refused(await drawn(8, 8, "gif"))).toBe("no-picture");
    const png = await drawn(400, 400);
    expect(await refused(png.subarray(0, png.length - 60))).toBe("picture-not-drawn");
    expect(await refused(svg("", 'width="90000" height="90000"'))).toBe("picture-not-drawn");
    expect(await refused(svg(`<text>${"x".repeat(600_000)}</text>`))).toBe("picture-not-drawn");
    // 64 million pixels in some kilobytes.
    expect(await refused(await drawn(8_000, 8_000))).toBe("picture-not-drawn");
    const laughs = Buffer.from(`<?xml version="1.0"?><!DOCTYPE s [<!ENTITY a "ha"><!ENTITY b "${"&a;".repeat(99)}">
      <!ENTITY c "${"&b;".repeat(99)}"><!ENTITY d "${"&c;".repeat(99)}">]>
      <svg xmlns="http://www.w3.org/2000/svg" width="9" height="9"><text>${"&d;".repeat(99)}</text></svg>`);
    expect(await refused(laughs)).toBe("no-picture");
    // In the two bytes a character that a decoder would take as well.
    expect(await refused(Buffer.from(`\ufeff${svg("<rect/>").toString()}`, "utf16le"))).toBe("no-picture");
    for (let n = 0; n < 8; n++) {
      const noise = Buffer.concat([
        png.subarray(0, 20 + 5 * n),
        Buffer.from(Array.from({ length: 60 }, (_, i) => (i * n * 37) & 255)),
      ]);
      expect(["no-picture", "picture-not-drawn"]).toContain(await refused(noise));
    }
  });

  it("waits for others of its sender, and not others for it", async () => {
    const order: string[] = [];
    const png = await drawn(40, 40);
    const send = (by: string, n: number) =>
      codeOf(within(png, 20, by)).then((code) => order.push(`${by} ${n} ${code}`));
    const many = Array.from({ length: 24 }, (_, n) => send("mallory", n));
    await Promise.all([...many, send("ida", 0)]);
    expect(order.filter((one) => one.endsWith("busy"))).toHaveLength(3);
    expect(order.indexOf("ida 0 done")).toBeLessThan(3 + 3);
  });
});
