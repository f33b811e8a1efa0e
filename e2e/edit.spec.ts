import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import {
  accessible,
  fold,
  player,
  recordedSeconds,
  signUp,
  sound,
  startRecording,
  stopAndOpen,
  unfinishedTake,
} from "./steps";

const line = (page: Page) => page.getByRole("group", { name: "What was recorded" });
/** Drags from one share of the line to another. */
async function choose(page: Page, from: number, to: number): Promise<void> {
  const box = (await line(page).boundingBox())!;
  const at = (share: number) => [box.x + box.width * share, box.y + 50] as const;
  await page.mouse.move(...at(from));
  await page.mouse.down();
  await page.mouse.move(...at(to), { steps: 8 });
  await page.mouse.up();
}
const steps = (page: Page) => page.getByRole("group", { name: "What was done" });
const shown = async (page: Page) => (await page.getByText(/^\d+:\d\d of \d+:\d\d shown$/).textContent())!;
const saved = (page: Page) => expect(page.getByText("Saved", { exact: true })).toBeVisible();
const time = (page: Page) => page.evaluate(() => (window.clearNodPlayer?.snapshot().time ?? -1) / 1e6);

/** Of what is chosen: a proposal may have a button of that name as well. */
const leaveOut = (page: Page) =>
  page
    .getByRole("status")
    .filter({ hasText: "s chosen" })
    .locator("..")
    .getByRole("button", { name: "Leave it out" })
    .click();

test("a recording is cut, looked at, undone over a reload, and published to a guest who is watching", async ({
  page,
  browser,
}) => {
  await signUp(page);
  await startRecording(page, "Screen and camera", "anyone");
  await recordedSeconds(page, 14);
  const link = await stopAndOpen(page);
  await expect(page.getByRole("button", { name: /^Play,/ })).toBeVisible();

  const guest = await (await browser.newContext()).newPage();
  await guest.addInitScript(`
    window.gains = [];
    const make = AudioContext.prototype.createGain;
    AudioContext.prototype.createGain = function () {
      const node = make.call(this);
      window.gains.push(node);
      return node;
    };`);
  await guest.goto(link);
  await guest.getByRole("button", { name: /^Play,/ }).click();
  await expect.poll(() => time(guest)).toBeGreaterThan(1);
  await player.pause(guest);
  await player.seek(guest, 12_000_000);
  const length = (await player.snapshot(guest)).duration / 1e6;

  await page.getByRole("link", { name: "Edit", exact: true }).click();
  await expect(line(page)).toBeVisible();
  await expect(page.getByText("Nothing is changed")).toBeVisible();
  // Before anything is played it is seen as it will be.
  await expect(page.getByTestId("inset")).toBeVisible();
  await expect(page.getByRole("button", { name: "Publish" })).toBeDisabled();
  // Out of the middle, then from the beginning by its handle.
  await choose(page, 0.3, 0.5);
  await expect(page.getByText(/s chosen$/)).toBeVisible();
  await page.keyboard.press("x");
  await expect(steps(page).getByText(/^Left out [2-4]\.\d s at 0:0[4-7]$/)).toBeVisible();
  const start = page.getByRole("slider", { name: "Where it begins" });
  await start.focus();
  for (let i = 0; i < 3; i++) await page.keyboard.press("Shift+ArrowRight");
  await expect(steps(page).getByText(/^Left out/)).toHaveCount(4);
  await expect(start).toBeFocused();
  const cutTo = await shown(page);
  await saved(page);

  // Undone and done again, over a reload.
  await page.keyboard.press("Control+z");
  await expect(steps(page).getByText(/^Left out/)).toHaveCount(3);
  await saved(page);
  await page.reload();
  await expect(steps(page).getByText(/^Left out/)).toHaveCount(3);
  await page.keyboard.press("Control+Shift+Z");
  await expect(steps(page).getByText(/^Left out/)).toHaveCount(4);
  expect(await shown(page)).toBe(cutTo);

  // It plays across what is left out, as it will be shown.
  const middle = (await page.evaluate(() => window.clearNodPlayer?.snapshot().duration ?? 0)) / 1e6;
  const [out, goesOn] = [0.3 * middle, 0.5 * middle];
  await player.seek(page, Math.round((out - 1) * 1e6));
  await player.play(page);
  const seen: number[] = [];
  await expect
    .poll(
      async () => {
        seen.push(await time(page));
        return seen.at(-1)!;
      },
      { intervals: [30], timeout: 20_000 },
    )
    .toBeGreaterThan(goesOn + 0.5);
  await player.pause(page);
  // Pauses may have drawn the ends to themselves; what lies well within is never seen.
  expect(seen.filter((at) => at > out + 0.7 && at < goesOn - 0.7)).toEqual([]);

  // Louder, as data: it is a step like others.
  await fold(page, "Sound").click();
  const voice = page.getByRole("group", { name: "Your voice" });
  await expect(voice.getByText(/-?\d+\.\d LUFS, peaks -?\d+\.\d dBTP/)).toBeVisible();
  // The beeps of the made-believe microphone leave no room above their peaks, and are not promised any.
  await expect(voice.getByText("-16 LUFS is usual for speech.")).toBeVisible();
  await expect(voice.getByRole("button", { name: /^Bring it to/ })).toHaveCount(0);
  await voice.getByRole("slider").focus();
  for (let i = 0; i < 6; i++) await page.keyboard.press("ArrowLeft");
  const decibels = -3;
  await expect(steps(page).getByText(`Your voice: ${decibels} dB`)).toBeVisible();

  // What was published before stays what guests see, until it is published.
  // An element tells its length anew with what it loads, a microsecond off.
  expect((await player.snapshot(guest)).duration / 1e6).toBeCloseTo(length, 3);
  await saved(page);
  await page.getByRole("button", { name: "Publish" }).click();
  await expect(page.getByText("This is what everybody sees")).toBeVisible({ timeout: 30_000 });
  await expect
    .poll(() => guest.evaluate(() => (window.clearNodPlayer?.snapshot().duration ?? 0) / 1e6), { timeout: 20_000 })
    .toBeLessThan(length - 3);
  const gains = () =>
    guest.evaluate("window.gains.map((node) => 20 * Math.log10(node.gain.value))") as Promise<number[]>;
  // While a page moves over there is no player for a moment.
  const plays = () => guest.evaluate(() => (window.clearNodPlayer?.play(), window.clearNodPlayer?.snapshot().playing));
  await expect.poll(plays).toBe(true);
  await expect.poll(async () => (await gains()).map(Math.round)).toEqual([decibels]);
  await player.pause(guest);
  // The moment that they were at went with them: what is left out before it is gone.
  await expect.poll(() => time(guest)).toBeLessThan(12 - 3);

  // And back again, all of it, in one press.
  await page.getByRole("button", { name: "Back to what was recorded" }).click();
  await saved(page);
  await page.getByRole("button", { name: "Publish" }).click();
  await expect(page.getByText("This is what everybody sees")).toBeVisible({ timeout: 30_000 });
  await expect
    .poll(() => guest.evaluate(() => (window.clearNodPlayer?.snapshot().duration ?? 0) / 1e6), { timeout: 20_000 })
    .toBeGreaterThan(length - 0.2);

  // What was published before is opened again, with its loudness, and can be published once more.
  await fold(page, "Published").click();
  const versions = page.getByRole("button", { name: /^Edit version \d again$/ });
  await expect(versions).toHaveCount(3);
  await accessible(page, "what was published before");
  await page.getByRole("button", { name: "Edit version 2 again" }).click();
  await expect(steps(page).getByText("As version 2 was published")).toBeVisible();
  expect(await shown(page)).toBe(cutTo);
  await saved(page);
  await page.getByRole("button", { name: "Publish" }).click();
  await expect(page.getByText("This is what everybody sees")).toBeVisible({ timeout: 30_000 });
  await expect(versions).toHaveCount(4);
  await expect
    .poll(() => guest.evaluate(() => (window.clearNodPlayer?.snapshot().duration ?? 0) / 1e6), { timeout: 20_000 })
    .toBeLessThan(length - 3);

  await accessible(page, "editing");
});

test("two windows never replace each other's edit unseen, and a lost network loses nothing", async ({
  page,
  context,
}) => {
  await signUp(page);
  await startRecording(page, "Voice");
  await recordedSeconds(page, 8);
  await stopAndOpen(page);
  await page.getByRole("link", { name: "Edit", exact: true }).click();
  await expect(line(page)).toBeVisible();
  const other = await context.newPage();
  await other.goto(page.url());
  await choose(other, 0.6, 0.8);
  await leaveOut(other);
  await saved(other);

  await choose(page, 0.2, 0.4);
  await leaveOut(page);
  await expect(page.getByText(/Another window has changed this edit meanwhile/)).toBeVisible();
  await expect(page.getByRole("button", { name: "Publish" })).toBeDisabled();
  await page.getByRole("button", { name: "Keep this one" }).click();
  await saved(page);
  await expect(steps(page).getByText(/^Left out/)).toHaveCount(1);

  await context.setOffline(true);
  await choose(page, 0.7, 0.9);
  await leaveOut(page);
  await expect(page.getByText(/^No connection\. Kept on this computer/)).toBeVisible();
  // The browser ends, and comes back to a connection.
  const address = page.url();
  await page.close({ runBeforeUnload: false });
  await context.setOffline(false);
  const back = await context.newPage();
  await back.goto(address);
  await expect(steps(back).getByText(/^Left out/)).toHaveCount(2);
  await saved(back);
  await back.getByRole("button", { name: "Publish" }).click();
  await expect(back.getByText("This is what everybody sees")).toBeVisible({ timeout: 30_000 });

  // A recording of somebody else cannot be edited.
  const stranger = await (await context.browser()!.newContext()).newPage();
  await signUp(stranger, "Bram Lark");
  expect((await stranger.goto(address))!.status()).toBe(404);
});

test("chapters are written and a poster is chosen, and both are there for everybody", async ({ page, browser }) => {
  await signUp(page);
  await startRecording(page, "Screen", "anyone");
  await recordedSeconds(page, 7);
  const link = await stopAndOpen(page);
  await page.getByRole("link", { name: "Edit", exact: true }).click();
  await expect(line(page)).toBeVisible();
  await page.getByRole("button", { name: /^Play,/ }).click();
  await expect.poll(() => time(page)).toBeGreaterThan(0.2);
  await player.pause(page);
  await player.seek(page, 3_000_000);
  await fold(page, "Chapters").click();
  await page.getByRole("button", { name: "A chapter from here" }).click();
  await page.getByLabel("A chapter at 3 seconds").fill("The pane");
  await page.keyboard.press("Enter");
  const chapter = page.getByRole("button", { name: "Chapter The pane, at 3 seconds" });
  await expect(chapter).toBeVisible();
  const title = page.getByLabel("Chapter at 3 seconds", { exact: true });
  await title.fill("The loose pane");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("button", { name: "Chapter The loose pane, at 3 seconds" })).toBeVisible();
  // Left as it was.
  await title.fill("Nothing");
  await page.keyboard.press("Escape");
  await expect(title).toHaveValue("The loose pane");

  const before = await (await page.request.get(`${link}/poster.jpg`)).body();
  await player.seek(page, 5_000_000);
  await fold(page, "Poster").click();
  await page.getByRole("button", { name: "Take the picture from here" }).click();
  await expect(fold(page, "Poster")).toContainText("the picture at 0:05");
  await expect(page.getByRole("img", { name: /^Poster of / })).toBeVisible({ timeout: 20_000 });
  // The browser's test screen shows its time: no two of its pictures are the same.
  const after = await (await page.request.get(`${link}/poster.jpg`)).body();
  expect(after.equals(before)).toBe(false);

  const guest = await (await browser.newContext()).newPage();
  await guest.goto(link);
  await expect(guest.getByRole("button", { name: "Chapter The loose pane, at 3 seconds" })).toBeVisible();
  expect((await guest.request.get(`${link}/poster.jpg`)).status()).toBe(200);
});

test("chapters are proposed where the screen shows something else, and taken or refused", async ({ page }) => {
  // Of the sample: what is recorded here shows one picture.
  await page.goto("/sign-in");
  await page.getByRole("button", { name: /Suri Vale/ }).click();
  await page.getByRole("link", { name: "Pane schedule for the north range" }).first().click();
  await page.getByRole("link", { name: "Edit", exact: true }).click();
  // What is said in it was written down: it stands on the line, and can be read while it plays.
  await expect(page.getByRole("button", { name: "Captions", exact: true })).toBeVisible();
  await fold(page, "Chapters").click();
  const proposed = page.getByRole("group", { name: "Proposed chapters" });
  const rows = proposed.getByRole("button", { name: /^Go to what could begin at/ });
  await expect(rows.first()).toBeVisible({ timeout: 30_000 });
  const many = await rows.count();
  await rows.first().click();
  await expect.poll(() => player.snapshot(page).then(({ time }) => time)).toBeGreaterThan(10e6);
  await accessible(page, "chapters that are proposed");
  await proposed
    .getByRole("button", { name: /^No chapter at/ })
    .first()
    .click();
  await expect(rows).toHaveCount(many - 1);
  await proposed
    .getByRole("button", { name: /^A chapter at/ })
    .first()
    .click();
  const part = page.getByRole("button", { name: /^Remove the chapter Part \d$/ });
  await expect(part).toHaveCount(1);
  await expect(proposed).toHaveCount(many === 2 ? 0 : 1);
  await part.click();
  await expect(part).toHaveCount(0);
});

test("what is still on its way is waited for, and can be edited as soon as it is here", async ({ page }) => {
  await signUp(page);
  const { link, finish } = await unfinishedTake(page, 4, { source: "voice", title: "How the ridge vent closes" });
  await page.goto(link);
  await page.getByRole("link", { name: "Edit", exact: true }).click();
  await expect(page.getByRole("heading", { name: "Not all of it is here yet" })).toBeVisible();
  await sound(page, "an edit that waits for its recording");
  expect((await finish()).ok()).toBe(true);
  await expect(line(page)).toBeVisible();
});
