import { expect, test } from "./test";
import { fileOf, picturesOf } from "./decoded";
import { phase, recordedSeconds, signUp, startRecording } from "./steps";

declare global {
  interface Window {
    opened: MediaStreamTrack[];
  }
}

/** Remembers every device that was opened. */
const REMEMBERED = `
  window.opened = [];
  const open = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
  navigator.mediaDevices.getUserMedia = async (wanted) => {
    const stream = await open(wanted);
    opened.push(...stream.getTracks());
    return stream;
  };`;

test("a take goes on wherever the tab goes, is told there, and is stopped from there", async ({ page }) => {
  await page.addInitScript(REMEMBERED);
  await signUp(page);
  await startRecording(page);
  await recordedSeconds(page, 2);
  const opened = await page.evaluate(() => window.opened.length);

  await page.getByRole("link", { name: "Library" }).click();
  const bar = page.getByRole("region", { name: "Recorder" });
  await expect(bar).toContainText("Recording");
  await expect(page).toHaveTitle(/◆ Recording/);
  // Closing the tab asks, and whoever stays goes on.
  const asked = page.waitForEvent("dialog");
  await page.close({ runBeforeUnload: true });
  const dialog = await asked;
  expect(dialog.type()).toBe("beforeunload");
  await dialog.dismiss();
  await page.getByRole("link", { name: "Answers" }).click();
  await expect(page).toHaveTitle(/◆ Recording/);
  await bar.getByRole("button", { name: "Pause" }).click();
  await expect(bar).toContainText("Paused");
  await expect(page).toHaveTitle(/Paused/);
  await bar.getByRole("button", { name: "Resume" }).click();
  await recordedSeconds(page, 4);

  // Back at the desk: the same devices, and nothing was opened a second time.
  await bar.getByRole("link", { name: "Go to it" }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording");
  await expect(bar).toHaveCount(0);
  await expect(page.getByLabel("Camera preview")).toBeVisible();
  expect(await page.evaluate(() => window.opened.length)).toBe(opened);
  await recordedSeconds(page, 6);
  await page.getByRole("link", { name: "Figures" }).click();
  await recordedSeconds(page, 8);
  await bar.getByRole("button", { name: "Stop" }).click();
  await page.waitForURL(/\/w\//, { timeout: 30_000 });
  await expect(bar).toHaveCount(0);
  await expect(page).toHaveTitle(/Screen and camera/);
  await expect.poll(() => page.evaluate(() => window.opened.filter((t) => t.readyState === "live").length)).toBe(0);

  for (const kind of ["screen", "camera"]) {
    const pictures = picturesOf(await fileOf(page, page.url(), kind), 1);
    expect(pictures.at(-1)!.at).toBeGreaterThan(7.5);
    // A page that is not seen would give one a second, again and again; a busy machine leaves some out now and then.
    const holes = pictures.filter(({ at }, i) => i > 0 && at - pictures[i - 1]!.at > 0.9);
    expect(holes.length).toBeLessThan(3);
  }

  // What was only being prepared ends with the page.
  await page.getByRole("link", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "ready");
  await expect(page.getByLabel("Camera preview")).toBeVisible();
  await page.getByRole("link", { name: "Library" }).click();
  await expect(page).toHaveTitle(/Library/);
  await expect.poll(() => page.evaluate(() => window.opened.filter((t) => t.readyState === "live").length)).toBe(0);
});
