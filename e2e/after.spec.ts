import { expect, test } from "./test";
import {
  chooseSurface,
  phase,
  playedTo,
  player,
  recordedSeconds,
  signUp,
  sound,
  startRecording,
  stopAndOpen,
} from "./steps";

test("right after: another take behind the same link, do it again, keep it", async ({ page }) => {
  await signUp(page);
  await startRecording(page, "Screen", "anyone");
  await recordedSeconds(page, 3);
  const link = await stopAndOpen(page);
  const after = page.getByRole("group", { name: "Right after recording" });
  await expect(after).toBeVisible();
  await sound(page, "right after");
  await expect(page.getByText("its last parts are still on their way")).toHaveCount(0);

  // Another surface, and the source of the first unless another one is chosen; what is said of it stands already.
  await after.getByRole("link", { name: "Add a take" }).click();
  await expect(page.getByText(/Another take of “Screen, /)).toBeVisible();
  await expect(page.getByLabel("Who can open the link")).toHaveCount(0);
  await expect(page.getByRole("button", { name: "Screen", exact: true })).toHaveAttribute("aria-pressed", "true");
  await chooseSurface(page);
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await recordedSeconds(page, 3);
  expect(await stopAndOpen(page)).toBe(link);
  await expect(page.getByText("its last parts are still on their way")).toHaveCount(0);
  await page.reload();
  const length = await page.locator("time[datetime^=PT]").first().getAttribute("dateTime");
  expect(Number(/PT(\d+)S/.exec(length!)![1])).toBeGreaterThanOrEqual(6);
  await page.waitForFunction(() => window.clearNodPlayer);
  await player.play(page);
  await playedTo(page, 5);

  await after.getByRole("button", { name: "Keep it" }).click();
  await expect(after).toHaveCount(0);
  await startRecording(page, "Screen");
  await recordedSeconds(page, 2);
  const second = await stopAndOpen(page);
  await after.getByRole("button", { name: "Do it again" }).click();
  await page.waitForURL(/\/record$/);
  await expect(page.getByRole("button", { name: "Screen", exact: true })).toHaveAttribute("aria-pressed", "true");
  expect((await page.request.get(second)).status()).toBe(404);
  await page.goto("/library?show=deleted");
  await expect(page.getByRole("listitem")).toHaveCount(1);
});

test("a take of somebody else's recording is nowhere", async ({ page, browser, baseURL }) => {
  await signUp(page);
  await startRecording(page, "Screen");
  await recordedSeconds(page, 2);
  await stopAndOpen(page);
  const add = page.getByRole("link", { name: "Add a take" });
  const href = await add.getAttribute("href");
  const other = await (await browser.newContext({ baseURL })).newPage();
  await signUp(other, "Ida Crake");
  expect((await other.goto(href!))!.status()).toBe(404);
  expect((await other.goto("/record?take-of=nothing"))!.status()).toBe(200);
});
