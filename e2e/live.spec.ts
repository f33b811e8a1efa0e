import { expect, test } from "./test";
import { player, recordedSeconds, signUp, startRecording, stopAndOpen } from "./steps";

test("a guest watches while it is still being recorded, to its end", async ({ page, browser }) => {
  await signUp(page);
  await startRecording(page, "Screen and camera", "anyone");
  await recordedSeconds(page, 5);
  const answer = await page.request.get("/library");
  const token = /\/w\/([\w-]{22})/.exec(await answer.text())![1]!;

  const stranger = await browser.newContext();
  const guest = await stranger.newPage();
  await guest.goto(`/w/${token}`);
  await expect(guest.getByText("This is being recorded right now. It plays as it grows.")).toBeVisible();
  await guest.getByRole("button", { name: /^Play/ }).first().click();
  const watched = () => player.snapshot(guest);
  const before = (await watched()).duration;
  await expect.poll(async () => (await watched()).time, { timeout: 20_000 }).toBeGreaterThan(2_000_000);
  await expect.poll(async () => (await watched()).duration, { timeout: 20_000 }).toBeGreaterThan(before + 3_000_000);
  expect((await watched()).growing).toBe(true);

  await stopAndOpen(page);
  // The last parts are sent beside two players; on a busy machine that takes a while.
  await expect.poll(async () => (await watched()).growing, { timeout: 60_000 }).toBe(false);
  // However long it became meanwhile, its end is played.
  await player.seek(guest, (await watched()).duration - 3e6);
  await expect.poll(async () => (await watched()).ended, { timeout: 60_000 }).toBe(true);
  await expect(guest.getByText("This is being recorded right now")).toHaveCount(0);
  await stranger.close();
});
