import { spawn } from "node:child_process";
import { once } from "node:events";
import { chromium, expect, test } from "@playwright/test";
import * as HLS from "hls-parser";
import { decodeComplaints, joinBytes, probePackets } from "../testing/media";
import { isBlank } from "../server/jobs/make-poster";
import { recordedSeconds, signUp, startRecording, stopAndOpen } from "./steps";

test("a real screen is recorded by a browser with a head", async ({ baseURL, launchOptions }) => {
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
    await startRecording(page, "Screen");
    await expect(page.getByTestId("shared")).toContainText("Whole screen");
    await recordedSeconds(page, 5);
    const link = await stopAndOpen(page);

    const get = async (path: string) => Buffer.from(await (await page.request.get(`${link}/${path}`)).body());
    const list = HLS.parse((await get("r1/screen.m3u8")).toString()) as HLS.types.MediaPlaylist;
    const file = joinBytes(
      ...(await Promise.all(["screen/init.mp4", ...list.segments.map((s) => s.uri)].map((uri) => get(`r1/${uri}`)))),
    );
    expect(decodeComplaints(file)).toBe("");
    const { packets, duration, codec } = probePackets(file);
    expect(codec).toBe("h264");
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
