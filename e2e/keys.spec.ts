import { expect, test } from "./test";
import { fold, phase, playerTime, recordedSeconds, signUp, sound } from "./steps";

test("everything at the desk has a key, which can be another one, and no two deeds have the same", async ({ page }) => {
  await signUp(page);
  await page.goto("/record");
  await expect(page.getByLabel("Camera preview")).toBeVisible();
  await page.keyboard.press("?");
  const list = page.getByRole("dialog", { name: "Keys" });
  await list.getByRole("button", { name: "Stop: E" }).click();
  await page.keyboard.press("p");
  await expect(list.getByRole("alert")).toContainText("P is for “Pause, and go on” already");
  await page.keyboard.press("Shift+S");
  await expect(list.getByRole("button", { name: "Stop: Shift+S" })).toBeVisible();
  await sound(page, "keys");
  await list.getByRole("button", { name: "Close" }).click();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await page.reload();
  await expect(page.getByLabel("Camera preview")).toBeVisible();
  await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();

  // Choosing, then recording: one key, two acts. Who types means the letter.
  await fold(page, "About it").click();
  await page.getByRole("textbox", { name: "Title", exact: true }).fill("");
  await page.getByRole("textbox", { name: "Title", exact: true }).pressSequentially("Ridge repair");
  await expect(phase(page)).toHaveAttribute("data-phase", "ready");
  await fold(page, "About it").click();
  await page.keyboard.press("r");
  await expect(page.getByLabel("Screen preview")).toBeVisible();
  await expect(phase(page)).toHaveAttribute("data-phase", "ready");
  await page.keyboard.press("r");
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await page.keyboard.press("v");
  await expect(page.getByText("Your microphone is muted")).toBeVisible();
  await page.keyboard.press("v");
  await expect(page.getByText("Your microphone is muted")).toHaveCount(0);
  await page.keyboard.press("c");
  await expect(page.getByTestId("inset")).toBeHidden();
  await page.keyboard.press("c");
  await page.keyboard.press("q");
  await expect(page.getByRole("combobox", { name: "Place" })).toHaveText("Bottom left");
  await page.keyboard.press("s");
  await expect(page.getByRole("button", { name: "Beside" })).toHaveAttribute("aria-pressed", "true");
  await page.keyboard.press("p");
  await expect(phase(page)).toHaveAttribute("data-phase", "paused");
  await page.keyboard.press("p");
  await expect(phase(page)).toHaveAttribute("data-phase", "recording");
  await recordedSeconds(page, 3);
  await page.keyboard.press("e");
  await expect(phase(page)).toHaveAttribute("data-phase", "recording");
  // Something went wrong, twice; the second time it had not.
  await page.keyboard.press("m");
  await expect(page.getByText(/^Marked at 0:\d\d\./)).toBeVisible();
  const wrong = (await page.evaluate(() => window.clearNodRecorder!.elapsed())) / 1e6;
  await recordedSeconds(page, Math.ceil(wrong) + 2);
  await page.keyboard.press("m");
  await page.getByRole("button", { name: "Take it back" }).click();
  await expect(page.getByText(/^Marked at/)).toHaveCount(1);
  await page.keyboard.press("Shift+S");
  await page.waitForURL(/\/w\//, { timeout: 30_000 });
  // The browser's false microphone beeps twice a second: what went wrong is one beep, and it is one.
  const proposed = page.getByRole("group", { name: "What could be left out" });
  await expect(proposed).toHaveText(/^You said that something went wrong here\. 0:\d\d to 0:\d\dPlay/);
  await page.getByRole("button", { name: "Play it without" }).click();
  await expect.poll(() => playerTime(page)).toBeGreaterThan(Math.max(0, wrong - 3.5));
  await expect(page.getByRole("heading", { name: "Ridge repair" })).toBeVisible();
});
