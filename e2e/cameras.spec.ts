import { readFile } from "node:fs/promises";
import sharp from "sharp";
import { expect, test } from "./test";
import { fileOf, picturesOf } from "./decoded";
import { phase, recorded, recordedSeconds, signUp, stopAndOpen } from "./steps";

/** Two cameras that can be told apart afterwards, by their grey. */
const CAMERAS = `
  const GREYS = { bright: 200, dark: 70 };
  navigator.mediaDevices.enumerateDevices = async () =>
    Object.keys(GREYS).map((deviceId) => ({ kind: "videoinput", deviceId, label: "The " + deviceId + " one", groupId: "" }));
  navigator.mediaDevices.getUserMedia = async ({ video }) => {
    const deviceId = video.deviceId?.exact ?? "bright";
    const canvas = Object.assign(document.createElement("canvas"), { width: 640, height: 480 });
    const context = canvas.getContext("2d");
    setInterval(() => {
      context.fillStyle = "rgb(" + GREYS[deviceId] + "," + GREYS[deviceId] + "," + GREYS[deviceId] + ")";
      context.fillRect(0, 0, 640, 480);
    }, 50);
    const stream = canvas.captureStream(20);
    const [track] = stream.getVideoTracks();
    const settings = track.getSettings();
    track.getSettings = () => ({ ...settings, deviceId });
    return stream;
  };`;

test("from one camera to the other in one press, in the middle of a take, and a picture of a moment is kept", async ({
  page,
}) => {
  await page.addInitScript(CAMERAS);
  await signUp(page);
  await page.goto("/record");
  await page.getByRole("button", { name: "Camera", exact: true }).click();
  await page.getByLabel("Record my voice").uncheck();
  await expect(page.getByLabel("Camera preview")).toBeVisible();
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await recordedSeconds(page, 3);
  const opened = page.context().waitForEvent("page");
  await page.getByRole("button", { name: "Controls above all windows" }).click();
  const small = await opened;
  await small.getByRole("button", { name: "The dark one" }).click();
  await expect(page.getByRole("button", { name: "The dark one" }).first()).toHaveAttribute("aria-pressed", "true");
  await recordedSeconds(page, 6);
  await small.getByRole("button", { name: "Save a picture" }).click();
  const kept = await page.getByText(/A picture to save at 0:\d\d/).textContent();
  const at = Number(/0:(\d\d)/.exec(kept!)![1]);
  expect(at).toBeGreaterThanOrEqual(6);
  await recordedSeconds(page, at + 2);
  // By its key: the next one is the first again.
  await page.bringToFront();
  await page.keyboard.press("n");
  await expect(page.getByRole("button", { name: "The bright one" }).first()).toHaveAttribute("aria-pressed", "true");
  const back = await recorded(page);
  await recordedSeconds(page, back + 3);
  const link = await stopAndOpen(page);

  const greys = picturesOf(await fileOf(page, link, "camera"), 1);
  const greyAt = (second: number) => greys.findLast(({ at }) => at <= second)!.columns[0]!;
  expect(Math.abs(greyAt(2) - 200)).toBeLessThan(20);
  expect(Math.abs(greyAt(5.8) - 70)).toBeLessThan(20);
  expect(Math.abs(greyAt(back + 2.5) - 200)).toBeLessThan(20);
  // No picture between them is anything else: the track goes on, and is never black.
  expect(greys.every(({ columns: [grey] }) => Math.min(Math.abs(grey! - 200), Math.abs(grey! - 70)) < 20)).toBe(true);

  const saved = page.waitForEvent("download");
  await page.getByRole("button", { name: /^Save the picture at/ }).click();
  const still = sharp(await readFile(await (await saved).path()));
  const { width, height, format } = await still.metadata();
  expect([width, height, format]).toEqual([640, 480, "png"]);
  expect(Math.abs((await still.stats()).channels[1]!.mean - 70)).toBeLessThan(20);
  expect((await saved).suggestedFilename()).toMatch(new RegExp(`^Camera.+ 0-${String(at).padStart(2, "0")}\\.png$`));
});
