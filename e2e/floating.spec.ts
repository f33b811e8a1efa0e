import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { accessible, chooseSurface, fold, phase, recordedSeconds, signUp } from "./steps";

/** The tone of the browser's own microphone is as loud as it likes. */
const HEARD = /decibels, (?!silent)/;
const clock = (page: Page) => page.getByRole("timer", { name: "Recorded" });

test.use({ asShipped: true });

test("the controls float above all windows: the count-in, every deed, every key, and on every page", async ({
  page,
}) => {
  await signUp(page);
  await page.goto("/record");
  await expect(page.getByLabel("Camera preview")).toBeVisible();
  await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();
  await fold(page, "For me alone").click();
  await page.getByLabel("Controls in a small window above all others while I record").check();
  await chooseSurface(page);
  const opened = page.context().waitForEvent("page");
  await page.getByRole("button", { name: "Record", exact: true }).click();
  const small = await opened;
  await expect(phase(small)).toContainText(/Counting in \d/);
  await expect(phase(small)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  // It is drawn as the page is: by our own letters and colours, as the policy allows.
  expect(await small.evaluate(() => getComputedStyle(document.body).fontFamily)).toContain("Atkinson");
  const band = await phase(page).evaluate((e) => getComputedStyle(e).backgroundColor);
  expect(await phase(small).evaluate((e) => getComputedStyle(e).backgroundColor)).toBe(band);
  await accessible(small, "the small window");

  await expect(small.getByRole("meter", { name: "Microphone level" })).toHaveAttribute("aria-valuetext", HEARD);
  await recordedSeconds(small, 2);
  await small.getByRole("button", { name: "Mute me" }).click();
  await expect(page.getByRole("button", { name: "Unmute my microphone" })).toBeVisible();
  await expect(small.getByText("Your microphone is muted")).toBeVisible();
  // Its keys are those of the desk.
  await small.bringToFront();
  await small.keyboard.press("v");
  await expect(small.getByRole("button", { name: "Mute me" })).toBeVisible();
  await small.keyboard.press("s");
  await expect(small.getByRole("button", { name: "Beside" })).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByRole("button", { name: "Beside" })).toHaveAttribute("aria-pressed", "true");
  await small.keyboard.press("p");
  await expect(phase(page)).toHaveAttribute("data-phase", "paused");
  await small.getByRole("button", { name: "Resume" }).click();

  // Another place of the application: the small window stays.
  await page.bringToFront();
  await page.getByRole("link", { name: "Library", exact: true }).click();
  await expect(page.getByRole("region", { name: "Recorder" })).toBeVisible();
  await expect(small.getByRole("meter", { name: "Microphone level" })).toHaveAttribute("aria-valuetext", HEARD);

  // Thrown away, and begun again: with the same set-up, from nothing, with the sound of the same microphone.
  const before = await clock(small).textContent();
  await small.getByRole("button", { name: "Start over" }).click();
  await small.getByRole("button", { name: "Throw it away and start" }).click();
  await expect(phase(small)).toContainText("Counting in");
  await expect(phase(small)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  expect(Number((await clock(small).textContent())!.replace(":", ""))).toBeLessThan(Number(before!.replace(":", "")));
  await expect(small.getByRole("button", { name: "Inset" })).toHaveAttribute("aria-pressed", "true");
  await expect(small.getByRole("meter", { name: "Microphone level" })).toHaveAttribute("aria-valuetext", HEARD);
  await recordedSeconds(small, 2);
  const closed = small.waitForEvent("close");
  await small.keyboard.press("e");
  await page.waitForURL(/\/w\//, { timeout: 30_000 });
  await closed;
  await page.goto("/library");
  await expect(page.getByRole("link", { name: /^Screen and camera/ })).toHaveCount(1);
});

test("closed, the controls are on the page; discarded, nothing is left", async ({ page }) => {
  await signUp(page);
  await page.goto("/record");
  await expect(page.getByLabel("Camera preview")).toBeVisible();
  await chooseSurface(page);
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  const opened = page.context().waitForEvent("page");
  await page.getByRole("button", { name: "Controls above all windows" }).click();
  const small = await opened;
  await expect(phase(small)).toHaveAttribute("data-phase", "recording");
  const closed = small.waitForEvent("close");
  await page.getByRole("button", { name: "Controls back here" }).click();
  await closed;
  await expect(phase(page)).toHaveAttribute("data-phase", "recording");
  const again = page.context().waitForEvent("page");
  await page.getByRole("button", { name: "Controls above all windows" }).click();
  const second = await again;
  await second.getByRole("button", { name: "Discard" }).click();
  await second.getByRole("button", { name: "Keep" }).click();
  await expect(phase(second)).toHaveAttribute("data-phase", "recording");
  await second.getByRole("button", { name: "Discard" }).click();
  await second.getByRole("button", { name: "Discard it" }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "ready");
  await expect(second.getByText("Press Record on the page")).toBeVisible();
});
