import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { accessible, fold, player, playerTime, recordedSeconds, signUp, startRecording, stopAndOpen } from "./steps";

const steps = (page: Page) => page.getByRole("group", { name: "What was done" }).getByRole("listitem");
const length = (page: Page) => page.evaluate(() => Math.round((window.clearNodPlayer?.snapshot().duration ?? 0) / 1e6));
const recorded = async (page: Page, seconds: number) => {
  await startRecording(page, "Screen and camera", "anyone");
  await recordedSeconds(page, seconds);
  return stopAndOpen(page);
};

test("another recording is brought into an edit, undone, done again, and published", async ({ page, browser }) => {
  await signUp(page);
  await recorded(page, 5);
  await page.goto("/record");
  const link = await recorded(page, 8);
  await page.getByRole("link", { name: "Edit", exact: true }).click();
  // Until then it is the player of the page before, which may still lack what is being sent.
  await expect(fold(page, "Takes")).toBeVisible();
  await expect.poll(() => length(page)).toBeGreaterThanOrEqual(8);
  const own = await length(page);

  await fold(page, "Takes").click();
  await page.getByRole("button", { name: "Bring in another recording" }).click();
  const dialog = page.getByRole("dialog", { name: "Bring in another recording" });
  await expect(dialog.getByRole("radiogroup", { name: "Your recordings" }).getByRole("radio")).toHaveCount(1);
  await accessible(page, "choosing a recording to bring in");
  await dialog.getByLabel("Search your recordings").fill("no such words");
  await expect(dialog.getByText("None of your recordings has these words")).toBeVisible();
  await expect(dialog.getByRole("button", { name: "Bring it in" })).toBeDisabled();
  await dialog.getByLabel("Search your recordings").fill("");
  await dialog.getByRole("radiogroup", { name: "Your recordings" }).getByRole("radio").check();

  // Without a connection nothing is brought in, and it says so.
  await page.route("**/bring-in", (route) => route.abort());
  await dialog.getByRole("button", { name: "Bring it in" }).click();
  await expect(dialog.getByRole("alert")).toContainText("There is no connection. Nothing was brought in.");
  await page.unroute("**/bring-in");
  await dialog.getByRole("button", { name: "Bring it in" }).click();
  await expect(dialog).toBeHidden();
  await expect(steps(page)).toHaveText([/^Brought in 0:\d\d of another$/]);
  await expect.poll(() => length(page)).toBeGreaterThanOrEqual(own + 5);
  await expect(page.locator("summary", { hasText: "2 of 2 shown" })).toBeVisible();
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.locator("summary", { hasText: "1 of 2 shown" })).toBeVisible();
  await page.getByRole("button", { name: "Do it again" }).click();
  await expect(page.locator("summary", { hasText: "2 of 2 shown" })).toBeVisible();

  const guest = await (await browser.newContext()).newPage();
  await guest.goto(link);
  await expect.poll(() => length(guest)).toBe(own);
  await page.getByRole("button", { name: "Publish", exact: true }).click();
  await expect(page.getByText("This is what everybody sees")).toBeVisible();
  // Who has it open has it longer from now on, and sees its end.
  await expect.poll(() => length(guest)).toBeGreaterThanOrEqual(own + 5);
  await player.seek(guest, (own + 2) * 1e6);
  await player.play(guest);
  await expect.poll(() => playerTime(guest)).toBeGreaterThan(own + 3);
});
