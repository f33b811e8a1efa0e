import { readFileSync } from "node:fs";
import { expect, test } from "./test";
import { fileOf, run } from "./decoded";
import { chooseSurface, phase, signUp } from "./steps";

test.use({ asShipped: true });

test("starts by itself at a time, and ends by itself after a minute", async ({ page }) => {
  await signUp(page);
  await page.goto("/record");
  await page.getByRole("button", { name: "Screen", exact: true }).click();
  await chooseSurface(page);
  await page.getByText("Start and end").click();
  await page.getByLabel("It ends").click();
  await page.getByRole("option", { name: "after 1 minute", exact: true }).click();
  // The next full minute that is at least 15 seconds away.
  const at = await page.evaluate(() => {
    const next = new Date(Date.now() + 15_000);
    next.setMinutes(next.getMinutes() + 1, 0, 0);
    return { ms: next.getTime(), clock: next.toTimeString().slice(0, 5) };
  });
  await page.getByLabel("Start by itself at").fill(at.clock);

  const downloading = page.waitForEvent("download");
  await page.getByRole("button", { name: "Calendar file" }).click();
  const file = await downloading;
  expect(file.suggestedFilename()).toBe("recording.ics");
  const utc = `${new Date(at.ms).toISOString().slice(0, 16).replace(/[-:]/g, "")}00Z`;
  expect(readFileSync((await file.path())!, "utf8")).toContain(`DTSTART:${utc}`);

  await page.getByRole("button", { name: `Start at ${at.clock}` }).click();
  await expect(phase(page)).toContainText(`Waiting to start, at ${at.clock}`);
  await expect(page).toHaveTitle(/Waiting to start/);
  await page.getByRole("button", { name: "Cancel" }).click();
  await page.getByRole("button", { name: `Start at ${at.clock}` }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "counting", { timeout: 80_000 });
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  const startedAt = await page.evaluate(() => Date.now() - window.clearNodRecorder!.elapsed() / 1000);
  // The first frame comes at the time itself; a busy computer may be late, and none is early.
  expect(startedAt - at.ms).toBeGreaterThan(-200);
  expect(startedAt - at.ms).toBeLessThan(5_000);

  await expect(page.getByTestId("left")).toContainText(/0:5\d left/);
  await page.waitForURL(/\/w\//, { timeout: 90_000 });
  await expect(page.getByText("It has ended by itself after 1 minute")).toBeVisible();
  /** Outside check: ffprobe's length of the voice. */
  const length = Number(
    run("ffprobe", "-show_entries", "format=duration", "-of", "csv=p=0", await fileOf(page, page.url(), "microphone")),
  );
  expect(Math.abs(length - 60)).toBeLessThan(1);
});
