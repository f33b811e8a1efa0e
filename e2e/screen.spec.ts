import { spawn } from "node:child_process";
import { once } from "node:events";
import { chromium } from "@playwright/test";
import * as HLS from "hls-parser";
import { decodeComplaints, joinBytes, probePackets } from "../testing/media";
import { isBlank } from "../server/jobs/make-poster";
import { expect, test } from "./test";
import { fileOf, run } from "./decoded";
import { chooseSurface, fold, phase, recordedSeconds, signUp } from "./steps";

test("the whole desk on a real screen, in a browser with a head", async ({ baseURL, launchOptions }) => {
  // -displayfd: the X server chooses a free display itself and says which.
  const xvfb = spawn("Xvfb", ["-displayfd", "1", "-screen", "0", "1280x720x24", "-nolisten", "tcp"], {
    stdio: ["ignore", "pipe", "ignore"],
  });
  const [display] = (await once(xvfb.stdout, "data")) as [Buffer];
  const browser = await chromium.launch({
    ...launchOptions,
    headless: false,
    env: { ...process.env, DISPLAY: `:${display.toString().trim()}` } as Record<string, string>,
    args: [
      ...launchOptions.args!.filter((a) => !a.includes("fake")),
      "--auto-select-desktop-capture-source=Entire screen",
      "--start-maximized",
    ],
  });
  try {
    const page = await (await browser.newContext({ baseURL, viewport: null })).newPage();
    await signUp(page);
    await page.goto("/record");
    await page.getByRole("button", { name: "Screen", exact: true }).click();
    await page.getByLabel("Record my voice").uncheck();
    await chooseSurface(page);
    await expect(page.getByTestId("shared")).toContainText("Whole screen");
    await fold(page, "Ready check").click();
    await page.getByRole("button", { name: "Rehearse ten seconds" }).click();
    const rehearsal = page.getByRole("region", { name: "Rehearsal" });
    await expect(rehearsal).toBeVisible({ timeout: 40_000 });
    await rehearsal.getByRole("button", { name: "Done" }).click();
    await page.getByRole("button", { name: "Only a part" }).click();
    await page.getByLabel("Usual sizes").click();
    await page.getByRole("option", { name: "640 × 480" }).click();
    await page.getByRole("button", { name: "Done" }).click();
    await page.getByRole("button", { name: "Record", exact: true }).click();
    await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
    const opened = page.context().waitForEvent("page");
    await page.getByRole("button", { name: "Controls above all windows" }).click();
    const small = await opened;
    await expect(page.getByText("everybody sees the small window too")).toBeVisible();
    await page.getByRole("button", { name: "Draw", exact: true }).click();
    const pad = (await page.getByRole("application").boundingBox())!;
    await page.mouse.move(pad.x + 0.3 * pad.width, pad.y + 0.3 * pad.height);
    await page.mouse.down();
    await page.mouse.move(pad.x + 0.6 * pad.width, pad.y + 0.5 * pad.height, { steps: 6 });
    await page.mouse.up();
    await small.getByRole("button", { name: "Pause" }).click();
    await expect(phase(page)).toHaveAttribute("data-phase", "paused");
    await small.getByRole("button", { name: "Resume" }).click();
    await recordedSeconds(page, 6);
    await small.getByRole("button", { name: "Stop", exact: true }).click();
    await page.waitForURL(/\/w\//, { timeout: 30_000 });
    const link = page.url();

    const get = async (path: string) => Buffer.from(await (await page.request.get(`${link}/${path}`)).body());
    const list = HLS.parse((await get("r1/screen.m3u8")).toString()) as HLS.types.MediaPlaylist;
    const file = joinBytes(
      ...(await Promise.all(["screen/init.mp4", ...list.segments.map((s) => s.uri)].map((uri) => get(`r1/${uri}`)))),
    );
    expect(decodeComplaints(file)).toBe("");
    const { packets, duration, codec } = probePackets(file);
    expect(codec).toBe("h264");
    const size = ["-show_entries", "stream=width,height", "-of", "csv=p=0", await fileOf(page, link, "screen")];
    expect(
      run("ffprobe", ...size)
        .toString()
        .trim(),
    ).toBe("640,480");
    await page.getByRole("button", { name: /^Play,/ }).click();
    await expect(page.getByRole("img", { name: "Drawn: pen" })).toBeVisible({ timeout: 20_000 });
    // At least 15 frames a second on the grid of 30, though most of this screen stands still.
    expect(packets / duration).toBeGreaterThanOrEqual(14);
    await expect
      .poll(async () => (await page.request.get(`${link}/poster.jpg`)).status(), { timeout: 20_000 })
      .toBe(200);
    expect(await isBlank(await get("poster.jpg"))).toBe(false);
  } finally {
    await browser.close();
    xvfb.kill();
  }
});
