import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium, type Page } from "@playwright/test";
import sharp from "sharp";
import { MEMBERS } from "../demo/people";
import { CAMERA, drawPresenter } from "../demo/presenter";
import { expect, test } from "./test";
import { fileOf, run } from "./decoded";
import { fold, phase, recordedSeconds, signUp, stopAndOpen } from "./steps";

/** What is on the wall behind the presenter: fine stripes, which a blur takes away, and a red corner. */
const STRIPES = Array.from({ length: 12 }, (_, i) => `<rect x="${40 + i * 12}" y="60" width="6" height="240"/>`).join(
  "",
);
const WALL = `<svg xmlns="http://www.w3.org/2000/svg" width="${CAMERA.width}" height="${CAMERA.height}">
  ${STRIPES}<rect width="80" height="60" fill="#D00000"/></svg>`;

/** A camera in front of which a drawn presenter sits. */
async function makeCamera(folder: string): Promise<string> {
  const still = join(folder, "presenter.png");
  const look = MEMBERS[0]!.look;
  const presenter = sharp(Buffer.from(drawPresenter(look, { mouth: 1, blinks: false, lean: 0 })));
  await presenter.composite([{ input: Buffer.from(WALL) }]).toFile(still);
  const file = join(folder, "presenter.mjpeg");
  run("ffmpeg", "-loop", "1", "-i", still, "-t", "2", "-r", "30", "-pix_fmt", "yuvj420p", "-q:v", "2", file);
  return file;
}

/** The last picture of a file as RGB, as ffmpeg's decoder shows it, at the size of the camera. */
function lastPicture(file: string): Buffer {
  const { width, height } = CAMERA;
  const filter = `scale=${width}:${height},format=rgb24`;
  return run("ffmpeg", "-sseof", "-0.5", "-i", file, "-vf", filter, "-frames:v", "1", "-f", "rawvideo", "-");
}
const at = (picture: Buffer, x: number, y: number) => [...picture.subarray(3 * (y * CAMERA.width + x)).subarray(0, 3)];
/** The standard deviation of green along a row. */
function spread(picture: Buffer, y: number, from: number, to: number): number {
  const row = Array.from({ length: to - from }, (_, i) => at(picture, from + i, y)[1]!);
  const mean = row.reduce((a, b) => a + b, 0) / row.length;
  return Math.sqrt(row.reduce((a, b) => a + (b - mean) ** 2, 0) / row.length);
}

async function recordCamera(page: Page): Promise<Buffer> {
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await recordedSeconds(page, 4);
  return lastPicture(await fileOf(page, await stopAndOpen(page), "camera"));
}

test("a face is found and told; what is behind it is blurred, a part is shown, and mirrored where that is wished", async ({
  baseURL,
  launchOptions,
}) => {
  const folder = mkdtempSync(join(tmpdir(), "clear-nod-camera-"));
  const browser = await chromium.launch({
    ...launchOptions,
    args: [...launchOptions.args!, `--use-file-for-fake-video-capture=${await makeCamera(folder)}`],
  });
  try {
    const page = await browser.newPage({ baseURL, permissions: ["camera", "microphone"], serviceWorkers: "block" });
    const policies: string[] = [];
    page.on("response", (r) => {
      if (/\/(?:lens|face)\.worker-/.test(r.url())) policies.push(r.headers()["content-security-policy"]!);
    });
    await signUp(page);
    await page.goto("/record");
    await page.getByRole("button", { name: "Camera", exact: true }).click();
    await expect(page.getByLabel("Camera preview")).toBeVisible();
    await fold(page, "Ready check").click();
    const check = page.getByRole("list", { name: "Ready check" });
    // The drawn face is 236 of 480 lines from hair to chin; what is found reaches from the brow.
    await expect(check).toContainText(/Framing face [23]\d % tall, [234]\d % free above it/, { timeout: 30_000 });
    await expect(check).toContainText(/your face is \d+ % brighter than what is around it/);
    await fold(page, "Ready check").click();

    const plain = await recordCamera(page);
    expect(spread(plain, 200, 44, 180)).toBeGreaterThan(60);

    await page.goto("/record");
    await fold(page, "My picture").click();
    await page.getByLabel("Blur what is behind me").check();
    await expect(page.getByText("You are seen; what is behind you is not.")).toBeVisible({ timeout: 30_000 });
    await expect(page.getByText(/It takes \d+ % of one processor/)).toBeVisible();
    const blurred = await recordCamera(page);
    // The stripes are gone, the eyes are as they were.
    expect(spread(blurred, 200, 44, 180)).toBeLessThan(spread(plain, 200, 44, 180) / 6);
    expect(spread(blurred, 214, 260, 380)).toBeGreaterThan(0.7 * spread(plain, 214, 260, 380));

    await page.goto("/record");
    await fold(page, "My picture").click();
    await page.getByLabel("Blur what is behind me").uncheck();
    await page.getByRole("slider", { name: "Nearer" }).fill("200");
    await page.getByRole("slider", { name: "From left to right" }).fill("0");
    await page.getByRole("slider", { name: "From top to bottom" }).fill("0");
    await page.getByLabel("Record it as in a mirror").check();
    const near = await recordCamera(page);
    // The red corner of 80 by 60 is twice as large, and on the other side.
    const red = (x: number, y: number) => {
      const [r, g, b] = at(near, x, y) as [number, number, number];
      return r > 150 && g < 80 && b < 80;
    };
    expect([red(630, 10), red(490, 110), red(470, 10), red(630, 130), red(10, 10)]).toEqual([
      true,
      true,
      false,
      false,
      false,
    ]);
    // What makes functions of text has no page, and reaches nothing but this server.
    expect(policies.length).toBeGreaterThanOrEqual(2);
    for (const policy of policies)
      expect(policy).toBe("default-src 'none'; script-src 'self' 'unsafe-eval'; connect-src 'self'");
  } finally {
    await browser.close();
    rmSync(folder, { recursive: true, force: true });
  }
});
