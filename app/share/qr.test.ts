import jsQR from "jsqr";
import sharp from "sharp";
import { expect, it } from "vitest";
import { qrCode } from "./qr";

// Read by a library that has nothing to do with the one that draws it.
it.each([
  "https://nod.example/s/7hk3mq2x",
  "https://nod.example/w/mC-VYRkV-fNbrLcnEnPxDI",
  `https://a-very-long-name-of-a-house.example:51800/w/${"k".repeat(22)}`,
])("holds the link: %s", async (link) => {
  const svg = await qrCode(link);
  const { data, info } = await sharp(Buffer.from(svg), { density: 300 })
    .resize(600, 600, { kernel: "nearest" })
    .ensureAlpha()
    .raw()
    .toBuffer({ resolveWithObject: true });
  const read = jsQR(new Uint8ClampedArray(data), info.width, info.height);
  expect(read?.data).toBe(link);
  // The quiet zone is four modules wide (ISO/IEC 18004, 6.3.8, from memory).
  const side = Number(/viewBox="0 0 (\d+) /.exec(svg)![1]);
  expect(side).toBe(17 + 4 * read!.version + 8);
});
