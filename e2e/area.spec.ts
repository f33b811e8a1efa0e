import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { fileOf, run } from "./decoded";
import { browserSharing, chooseSurface, fold, phase, recordedSeconds, signUp, stopAndOpen } from "./steps";

const SURFACE = { width: 1280, height: 720 };
const CELL = 40;
/** How bright a pixel of the test pattern is: no two places of it look alike. */
const greyAt = (x: number, y: number) => 20 + ((Math.floor(x / CELL) * 7 + Math.floor(y / CELL) * 13) % 24) * 9;

const PATTERN = `<title>Test pattern</title><body style="margin:0;overflow:hidden"><canvas id="c"></canvas><script>
  const [width, height, cell] = [${SURFACE.width}, ${SURFACE.height}, ${CELL}];
  Object.assign(c, { width, height });
  const context = c.getContext("2d");
  let n = 0;
  const draw = () => {
    for (let x = 0; x < width; x += cell)
      for (let y = 0; y < height; y += cell) {
        const grey = 20 + (((x / cell) * 7 + (y / cell) * 13) % 24) * 9;
        context.fillStyle = "rgb(" + grey + "," + grey + "," + grey + ")";
        context.fillRect(x, y, cell, cell);
      }
    // Something moves, in a corner that is not recorded.
    context.fillStyle = n++ % 2 ? "#000" : "#fff";
    context.fillRect(0, 0, cell, cell);
    requestAnimationFrame(draw);
  };
  draw();
</script>`;

/** Outside check: what ffprobe says of a file's picture, and when its pictures are. */
function pictureOf(file: string) {
  const say = (entries: string) => run("ffprobe", "-show_entries", entries, "-of", "csv=p=0", file).toString().trim();
  const [width, height] = say("stream=width,height").split(",").map(Number) as [number, number];
  return { width, height, times: say("packet=pts_time").split("\n").map(Number) };
}

/** Outside check: the brightness of every pixel of the picture at a moment, as ffmpeg's decoder shows it. */
const pixelsAt = (file: string, seconds: number) =>
  run("ffmpeg", "-ss", String(seconds), "-i", file, "-frames:v", "1", "-vf", "format=gray", "-f", "rawvideo", "-");

/** How far a picture is from the pattern if its top left corner were at a place of it; mean of the differences. */
function distance(pixels: Uint8Array, size: { width: number; height: number }, left: number, top: number): number {
  let sum = 0;
  for (let y = 0; y < size.height; y++)
    for (let x = 0; x < size.width; x++) sum += Math.abs(pixels[y * size.width + x]! - greyAt(x + left, y + top));
  return sum / pixels.length;
}

async function ready(page: Page): Promise<void> {
  await page.goto("/record");
  await page.getByRole("button", { name: "Screen", exact: true }).click();
  await page.getByLabel("Record my voice").uncheck();
  await chooseSurface(page);
  // Where a tab is shared, it comes to the front.
  await page.bringToFront();
}

async function recordFor(page: Page, seconds: number): Promise<string> {
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await recordedSeconds(page, seconds);
  return stopAndOpen(page);
}

test.use({ asShipped: true });

test("a part of a surface is recorded to the pixel, and a quality as it says", async ({ baseURL, launchOptions }) => {
  const browser = await browserSharing("Test pattern", launchOptions);
  try {
    const context = await browser.newContext({ baseURL, permissions: ["clipboard-write"], viewport: SURFACE });
    await (await context.newPage()).setContent(PATTERN);
    const page = await context.newPage();
    await signUp(page);
    await ready(page);

    await page.getByRole("button", { name: "Only a part" }).click();
    await page.getByLabel("Usual sizes").click();
    // What is larger than the surface is not offered.
    await expect(page.getByRole("option")).toHaveText(["640 × 480", "800 × 600", "1280 × 720"]);
    await page.getByRole("option", { name: "640 × 480" }).click();
    const type = async (label: string, value: string, becomes = value) => {
      await page.getByLabel(label).fill(value);
      await page.getByLabel(label).press("Enter");
      await expect(page.getByLabel(label)).toHaveValue(becomes);
    };
    await page.getByLabel("Keep its shape").check();
    await type("Width", "320");
    await expect(page.getByLabel("Height")).toHaveValue("240");
    await page.getByLabel("Keep its shape").uncheck();
    await type("Width", "641", "642");
    await type("Height", "many", "240");
    await type("Height", "359", "360");
    await type("From the left", "9000", "638");
    await type("From the left", "322");
    await type("From the top", "202");
    // By keys, and by dragging a corner and back.
    const area = page.getByRole("group", { name: "The area." });
    await area.focus();
    await page.keyboard.press("Shift+ArrowRight");
    await expect(page.getByLabel("From the left")).not.toHaveValue("322");
    await type("From the left", "322");
    const corner = (await page.getByRole("button", { name: "Bottom right corner" }).boundingBox())!;
    const grip = [corner.x + corner.width / 2, corner.y + corner.height / 2] as const;
    await page.mouse.move(...grip);
    await page.mouse.down();
    await page.mouse.move(grip[0] - 60, grip[1] - 30, { steps: 4 });
    await page.mouse.up();
    await expect(page.getByLabel("Width")).not.toHaveValue("642");
    await type("Width", "642");
    await type("Height", "360");
    await expect(page.getByText("A part is recorded, as 642 × 360.")).toBeVisible();
    await page.getByRole("button", { name: "Done" }).click();
    const part = await fileOf(page, await recordFor(page, 3), "screen");

    const { width, height } = pictureOf(part);
    expect({ width, height }).toEqual({ width: 642, height: 360 });
    const pixels = pixelsAt(part, 2);
    const here = distance(pixels, { width, height }, 322, 202);
    expect(here).toBeLessThan(4);
    for (const [dx, dy] of [
      [-2, 0],
      [2, 0],
      [0, -2],
      [0, 2],
    ] as const)
      expect(distance(pixels, { width, height }, 322 + dx, 202 + dy)).toBeGreaterThan(here + 1);

    await ready(page);
    await fold(page, "Quality").click();
    await page.getByRole("combobox", { name: "Level" }).click();
    await page.getByRole("option", { name: /^Small/ }).click();
    const small = pictureOf(await fileOf(page, await recordFor(page, 3), "screen"));
    // The browser chooses a width that it can scale to.
    expect(small.height).toBe(480);
    expect(Math.abs(small.width - 854)).toBeLessThanOrEqual(2);
    for (const at of small.times) expect(Math.abs(at * 15 - Math.round(at * 15))).toBeLessThan(0.01);
    expect(small.times.length / small.times.at(-1)!).toBeGreaterThan(7);
    expect(small.times.length / small.times.at(-1)!).toBeLessThan(16);
  } finally {
    await browser.close();
  }
});
