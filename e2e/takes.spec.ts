import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { anotherTake, giveName, inStep, playedTo, player, sharedTake, signUp } from "./steps";

test("another take goes on behind the same link, for those who are watching as well", async ({ page, browser }) => {
  await signUp(page);
  const { link, recordingId } = await sharedTake(page, 8);
  const theirs = await browser.newContext();
  const guest = await theirs.newPage();
  await guest.goto(link);
  await guest.getByRole("button", { name: /^Play, 0:08/ }).click();
  await playedTo(guest, 2);
  await anotherTake(page, 8, recordingId);

  // The open page hears of it, moves over where it was, and plays on into the second take.
  const watched = () => player.snapshot(guest);
  await expect.poll(() => guest.evaluate(() => window.clearNodPlayer?.url ?? "")).toContain("/r2/");
  await expect.poll(async () => (await watched()).duration / 1e6).toBeGreaterThan(15.9);
  expect((await watched()).time / 1e6).toBeLessThan(15);
  await expect.poll(async () => (await watched()).playing).toBe(true);
  await playedTo(guest, 10);
  expect((await watched()).problem).toBeNull();
  // Over the join as well: it is crossed while this looks.
  await inStep(guest, 6.5);

  // What is said there is told there, to the sender and after a reload.
  await guest.getByRole("button", { name: "Pause" }).click();
  await guest.getByRole("textbox", { name: "Comment at this moment" }).fill("Why is it done twice?");
  await guest.getByRole("button", { name: "Comment", exact: true }).click();
  await giveName(guest, "Wren Thistle");
  await expect(guest.getByRole("list", { name: "Comments in order of time" })).toContainText("Why is it done twice?");
  // The moment as the guest sees it is the moment that the sender sees.
  const moment = (of: Page) => of.getByRole("button", { name: /^Go to \d+ seconds?$/ });
  const at = (await moment(guest).getAttribute("aria-label"))!;
  expect(Number(at.match(/\d+/)![0])).toBeGreaterThanOrEqual(6);
  await page.goto(link);
  await expect(page.getByText("Why is it done twice?")).toBeVisible();
  await expect(moment(page)).toHaveAttribute("aria-label", at);
  await expect.poll(() => page.evaluate(() => window.clearNodPlayer?.snapshot().duration ?? 0)).toBeGreaterThan(15.9e6);
  // In another order, for whoever has it open as well; what was said stays with what it is about.
  await page.getByRole("button", { name: "2 takes: their order" }).click();
  await page.getByRole("button", { name: "Take 2 earlier" }).click();
  await page.getByRole("button", { name: "Show them so" }).click();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await expect.poll(() => guest.evaluate(() => window.clearNodPlayer?.url ?? "")).toContain("/r3/");
  await expect(moment(page)).not.toHaveAttribute("aria-label", at);
  const moved = (await moment(page).getAttribute("aria-label"))!;
  await expect(moment(guest)).toHaveAttribute("aria-label", moved);
  expect(Number(at.match(/\d+/)![0]) - Number(moved.match(/\d+/)![0])).toBe(8);
  // The guest is where they were, in the take that is shown first now.
  const second = Number(moved.match(/\d+/)![0]);
  await expect.poll(async () => Math.abs((await watched()).time / 1e6 - second - 0.5)).toBeLessThan(0.7);
  await guest.getByRole("button", { name: "Play", exact: true }).click();
  await playedTo(guest, 3);
  for (const body of ["5", '"recording"', "null", "[]", '{"recording":1,"source":"screen"}', "{"]) {
    const headers = { "content-type": "application/json" };
    expect((await page.request.post("/takes", { data: Buffer.from(body), headers })).status(), body).toBe(422);
  }
  const gone = { source: "screen-camera", recording: "00000000-0000-4000-8000-000000000000" };
  expect((await page.request.post("/takes", { data: gone })).status()).toBe(404);
  // Another one of somebody else is not taken.
  const refused = await guest.request.post("/takes", { data: { source: "screen-camera", recording: recordingId } });
  expect(refused.status()).toBe(401);
  await theirs.close();
});

test("another take shows something else: each layer plays where it has something", async ({ page, context }) => {
  await signUp(page);
  const { link, recordingId } = await sharedTake(page, 6, "First me, then the drawing", "camera");
  // Chosen at the desk, beside what the first take was.
  await page.goto(`/record?take-of=${recordingId}`);
  const chosen = (name: string) => page.getByRole("button", { name, exact: true });
  await expect(chosen("Camera")).toHaveAttribute("aria-pressed", "true");
  await chosen("Screen").click();
  await expect(chosen("Screen")).toHaveAttribute("aria-pressed", "true");
  await anotherTake(page, 6, recordingId, "screen");
  await anotherTake(page, 4, recordingId, "voice");

  const watch = await context.newPage();
  await watch.goto(link);
  const videos = () =>
    watch.evaluate(() =>
      ["main", "camera"].map((role) => {
        const video = document.querySelector<HTMLVideoElement>(`[data-layer=${role}]`)!;
        const { left, top, width, height } = video.getBoundingClientRect();
        const seen = document
          .elementsFromPoint(left + width / 2, top + height / 2)
          .some((element) => element === video);
        return { seen: seen && getComputedStyle(video).visibility === "visible", paused: video.paused };
      }),
    );
  // On a busy machine all of them wait for a moment now and then.
  const paused = async () => (await videos()).map((video) => video.paused);
  await watch.getByRole("button", { name: /^Play, 0:16/ }).click();
  await playedTo(watch, 2);
  await expect.poll(paused).toEqual([true, false]);
  await player.seek(watch, 4.5e6);
  // Over both joins by itself, without waiting for what is not there.
  await playedTo(watch, 8);
  await expect.poll(paused).toEqual([false, true]);
  await player.seek(watch, 10.5e6);
  await playedTo(watch, 13.5);
  await expect.poll(paused).toEqual([true, true]);
  await expect.poll(() => player.snapshot(watch).then(({ ended }) => ended), { timeout: 20_000 }).toBe(true);
  // And back: each is there at once.
  for (const [at, playing] of [
    [1, "camera"],
    [7, "main"],
  ] as const) {
    await player.seek(watch, at * 1e6);
    await player.play(watch);
    await playedTo(watch, at + 1);
    const role = playing === "main" ? 0 : 1;
    await expect.poll(async () => (await paused())[role]).toBe(false);
  }
  expect((await player.snapshot(watch)).problem).toBeNull();
});
