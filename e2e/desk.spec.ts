import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { chooseSurface, fold, phase, recordedSeconds, signUp, sound, stopAndOpen } from "./steps";

const field = (page: Page, name: string) => page.getByRole("textbox", { name, exact: true });

test("a set-up is kept, begins every time, and is one press away; limits are told before", async ({ page }) => {
  await signUp(page);
  await page.goto("/workspace");
  await page.getByLabel("Longest take").click();
  const kept = page.waitForResponse((answer) => answer.request().method() === "POST" && answer.ok());
  await page.getByRole("option", { name: "5 minutes", exact: true }).click();
  await kept;
  await page.goto("/record");
  await page.getByRole("button", { name: "Screen", exact: true }).click();
  await fold(page, "Quality").click();
  await expect(page.getByText("A take here lasts 5 minutes at the most.")).toBeVisible();
  await page.getByRole("combobox", { name: "Level" }).click();
  await page.getByRole("option", { name: "As I choose" }).click();
  await page.getByLabel("At most").click();
  await page.getByRole("option", { name: "600 lines" }).click();
  await page.getByLabel("Pictures", { exact: true }).click();
  await page.getByRole("option", { name: "60, for fast motion" }).click();
  await expect(fold(page, "Quality")).toContainText("600 lines, 60 a second");

  await fold(page, "Set-up").click();
  await field(page, "Name").fill("Weekly survey");
  await page.getByLabel("Start with it every time").check();
  await page.getByRole("button", { name: "Keep as a set-up" }).click();
  await expect(fold(page, "Set-up")).toContainText("Weekly survey");
  await page.getByRole("button", { name: "Camera", exact: true }).click();
  await expect(fold(page, "Set-up")).toContainText("Weekly survey, changed");
  await field(page, "Name").fill("Face only");
  await page.getByLabel("Start with it every time").uncheck();
  await page.getByRole("button", { name: "Keep as a set-up" }).click();
  await expect(fold(page, "Set-up")).toContainText("Face only");
  await sound(page, "set-up");

  // The first one is there whatever was chosen last, on every computer of theirs.
  await page.evaluate(() => localStorage.clear());
  await page.reload();
  await expect(fold(page, "Set-up")).toContainText("Weekly survey");
  await expect(fold(page, "Quality")).toContainText("600 lines, 60 a second");
  await page.goto("/library");
  // An empty library says how to begin; set-ups stand over a library with something in it.
  await expect(page.getByRole("heading", { name: "Your library is empty" })).toBeVisible();
  await page.goto("/record");
  await chooseSurface(page);
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await recordedSeconds(page, 2);
  await stopAndOpen(page);
  await page.goto("/library");
  await page.getByRole("navigation", { name: "Record with a set-up" }).getByRole("link", { name: "Face only" }).click();
  await expect(fold(page, "Set-up")).toContainText("Face only");
  await expect(page.getByRole("button", { name: "Camera", exact: true })).toHaveAttribute("aria-pressed", "true");
  await fold(page, "Set-up").click();
  await page.getByRole("button", { name: "Remove" }).click();
  await expect(fold(page, "Set-up")).toContainText("none");
});

test("what a recording is about is written before, while it runs, and after", async ({ page, browser, baseURL }) => {
  await signUp(page);
  await page.goto("/record");
  await page.getByRole("button", { name: "Voice", exact: true }).click();
  await fold(page, "About it").click();
  await field(page, "Title").fill("Ridge panes");
  await page.getByRole("combobox", { name: "Tags" }).fill("roof");
  await page.keyboard.press("Enter");
  await page.getByLabel("Who can open the link").click();
  await page.getByRole("option", { name: /Anyone with the link/ }).click();
  await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await fold(page, "About it").click();
  const kept = page.waitForResponse((r) => r.url().includes("/recordings/") && r.request().method() === "POST");
  await field(page, "Title").fill("Ridge panes, north slope");
  await field(page, "Description").fill("Which panes are loose.\nAnd why.");
  await kept;
  await recordedSeconds(page, 2);
  const link = await stopAndOpen(page);

  await expect(page.getByRole("heading", { name: "Ridge panes, north slope" })).toBeVisible();
  await expect(page.getByText("Tags: roof")).toBeVisible();
  await page.getByRole("button", { name: "Change", exact: true }).click();
  await page.getByRole("dialog").getByRole("combobox", { name: "Tags" }).fill("putty");
  await page.keyboard.press("Enter");
  await page.getByRole("button", { name: "Keep", exact: true }).click();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await expect(page.getByText("Tags: roof, putty")).toBeVisible();

  const guest = await (await browser.newContext({ baseURL })).newPage();
  await guest.goto(link);
  await expect(guest.getByText("Which panes are loose.")).toBeVisible();
  await guest.getByRole("button", { name: "More" }).click();
  await expect(guest.getByText("And why.")).toBeVisible();
  await expect(guest.getByRole("button", { name: "Change", exact: true })).toHaveCount(0);
});
