import sharp from "sharp";
import { nearerBy, type View } from "#core/layout/view";
import { GROUND } from "./poster-source";

/** What is shown of a picture, as PNG: turned, straightened, and cut to its part. */
export async function viewed(picture: Buffer, { turn, tilt, crop }: View): Promise<Buffer> {
  const turned = await sharp(picture).rotate(turn).png().toBuffer();
  const { width, height } = await sharp(turned).metadata();
  const straight = tilt === 0 ? turned : await straightened(turned, { width, height }, tilt);
  const side = (share: number, length: number) => Math.max(1, Math.round(share * length));
  const [w, h] = [side(crop.width, width), side(crop.height, height)];
  const left = Math.min(width - w, Math.round(crop.x * width));
  const top = Math.min(height - h, Math.round(crop.y * height));
  return sharp(straight).extract({ left, top, width: w, height: h }).png().toBuffer();
}

/** Turned by a few degrees about its middle, and so much nearer that no corner is empty. */
async function straightened(picture: Buffer, size: { width: number; height: number }, tilt: number): Promise<Buffer> {
  const rotated = await sharp(picture).rotate(tilt, { background: GROUND }).png().toBuffer();
  const { width, height } = await sharp(rotated).metadata();
  const nearer = nearerBy(size, tilt);
  const [w, h] = [Math.floor(size.width / nearer), Math.floor(size.height / nearer)];
  return sharp(rotated)
    .extract({ left: Math.floor((width - w) / 2), top: Math.floor((height - h) / 2), width: w, height: h })
    .resize(size.width, size.height, { fit: "fill" })
    .png()
    .toBuffer();
}
