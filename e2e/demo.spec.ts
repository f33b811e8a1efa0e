import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { sound } from "./steps";

/** One press on the sign-in page. */
async function enter(page: Page, name: string) {
  await page.goto("/sign-in");
  await page.getByRole("button", { name: new RegExp(name) }).click();
  await expect(page.getByRole("heading", { name: "Library" })).toBeVisible();
}

/** The link of a recording that is played where somebody is signed in. */
async function somebodysLink(page: Page): Promise<string> {
  await enter(page, "Suri Vale");
  const row = page.getByRole("region", { name: "Nothing asked" }).getByRole("link").first();
  return (await row.getAttribute("href"))!;
}

test("the sample practice is there at the first start, and every view of it is sound, wide, narrow and dark", async ({
  page,
  browser,
}) => {
  const complaints: string[] = [];
  page.on("console", (m) => m.type() === "error" && complaints.push(m.text()));
  page.on("pageerror", (e) => complaints.push(e.message));
  await page.goto("/sign-in");
  await sound(page, "sign-in with the sample");
  await enter(page, "Suri Vale");
  for (const group of ["Waiting for answers", "Nothing asked", "From colleagues"])
    await expect(page.getByRole("region", { name: group })).toBeVisible();
  // The posters are made after the start.
  await expect
    .poll(
      async () => {
        await page.reload();
        return page.locator("main img").count();
      },
      { timeout: 30_000 },
    )
    .toBe(9);
  await sound(page, "library of the sample");

  await page.goto("/answers");
  await expect(
    page.getByRole("heading", { name: /^(Question|Answer|Comment|Not clear yet) from/ }).first(),
  ).toBeVisible();
  await sound(page, "answers of the sample");
  await page.getByRole("link", { name: "You owe" }).click();
  await expect(page.getByRole("heading", { name: "You are asked by Orla Fenn" }).first()).toBeVisible();

  await page.goto("/figures");
  await expect(page.getByRole("img", { name: /^New viewers a day/ })).toBeVisible();
  await page.getByRole("button", { name: "Views" }).click();
  await expect(page.getByRole("row").nth(1)).toContainText("Pane schedule for the north range");
  await sound(page, "figures of the sample");
  await page.getByRole("link", { name: "Pane schedule for the north range" }).click();
  await expect(page.getByText(/Played again most/)).toBeVisible();
  await expect(page.getByText(/people leave here/)).toBeVisible();
  await sound(page, "figures of one recording");
  await page.emulateMedia({ colorScheme: "dark" });
  await sound(page, "figures of one recording, dark");
  await page.getByRole("link", { name: "How is this counted?" }).click();
  await expect(page.getByRole("heading", { name: "How viewing is counted" })).toBeVisible();
  await sound(page, "how it is counted, dark");
  await page.goBack();
  await page.getByRole("link", { name: "Open the recording" }).click();
  await expect(page.getByRole("button", { name: /^Chapter The lap/ })).toBeVisible();
  await sound(page, "watch page of the sender, dark");
  await page.emulateMedia({ colorScheme: "light" });
  await page.getByRole("tab", { name: "People" }).click();
  await expect(page.getByRole("region", { name: "Watched, not answered" }).getByText(/unnamed guests/)).toBeVisible();
  await sound(page, "people beside the recording");

  const guest = await (await browser.newContext()).newPage();
  await guest.goto(page.url());
  await guest.getByRole("button", { name: "Captions" }).click();
  await guest.getByRole("button", { name: /^Play, 1:34/ }).click();
  await expect(guest.getByTestId("caption")).toHaveText(/This is the pane schedule/);
  await expect.poll(() => guest.evaluate(() => window.clearNodPlayer?.drifts().length)).toBe(2);
  await sound(guest, "watch page of a guest");
  expect(complaints).toEqual([]);
  await guest.context().close();
});

test("comments go out as annotations and come in again, and what is no such file is refused", async ({ page }) => {
  await enter(page, "Suri Vale");
  await page.goto("/figures");
  await page.getByRole("link", { name: "Reading the survey drawing" }).click();
  const download = page.waitForEvent("download");
  await page.getByRole("link", { name: "Comments (Web Annotation)" }).click();
  const file = (await (await download).path())!;
  await page.getByLabel("A file with comments").setInputFiles(file);
  await expect(page.getByText(/0 comments were added; \d+ were there already; 0 entries/)).toBeVisible();
  await page
    .getByLabel("A file with comments")
    .setInputFiles({ name: "x.json", mimeType: "application/json", buffer: Buffer.from("not json") });
  await expect(page.getByRole("alert")).toHaveText("This file is no JSON. Nothing was added.");
});

test("the code of a link's page waits for its picture, and for nobody who presses something", async ({ page }) => {
  const link = await somebodysLink(page);
  const held = page.locator("script[data-modules]");
  const alive = () => page.evaluate(() => globalThis.earlyPress === undefined);
  await page.clock.install();
  await page.clock.pauseAt(Date.now() + 3_600_000);

  // Nothing plays, and no time passes.
  await page.route("**/*.m4s", () => undefined);
  const scripts: string[] = [];
  page.on("request", (request) => request.resourceType() === "script" && scripts.push(request.url()));
  await page.goto(link);
  await expect(page.getByRole("button", { name: /^Play, / })).toBeVisible();
  await expect(held).toHaveCount(1);
  expect(await alive()).toBe(false);
  expect(scripts.map((url) => /\/([a-z]+)-[\w-]+\.js$/.exec(url)?.[1] ?? url)).toEqual(["time", "player"]);
  await page.getByLabel("Comment at this moment").fill("Which side goes under?");
  await expect.poll(alive).toBe(true);
  // What was typed before is as if it was typed now.
  await page.clock.runFor(100);
  await expect(page.getByRole("button", { name: "Comment", exact: true })).toBeEnabled();
  await expect(page.getByLabel("Comment at this moment")).toHaveValue("Which side goes under?");

  // Time passes.
  await page.goto(link);
  await expect(held).toHaveCount(1);
  await page.clock.runFor(2_000);
  await expect.poll(alive).toBe(true);

  // The first layer shows something.
  await page.goto(link);
  await expect(held).toHaveCount(1);
  await page.locator("[data-layer]").first().dispatchEvent("loadeddata");
  await expect.poll(alive).toBe(true);
  await expect(held).toHaveCount(0);
});

test("a key that comes before the page's code plays", async ({ page }) => {
  const link = await somebodysLink(page);
  await page.goto(link, { waitUntil: "domcontentloaded" });
  await page.keyboard.press("Space");
  await expect(page.getByRole("button", { name: "Pause", exact: true })).toBeVisible();
});

test("nothing on a page moves while it is shown and wakes up", async ({ page }) => {
  await enter(page, "Orla Fenn");
  const folder = await page.getByRole("link", { name: "For the trustees" }).getAttribute("href");
  await page.addInitScript(() => {
    const moves: number[] = ((window as { moves?: number[] }).moves = []);
    new PerformanceObserver((list) => {
      for (const entry of list.getEntries()) moves.push((entry as PerformanceEntry & { value: number }).value);
    }).observe({ type: "layout-shift", buffered: true });
  });
  for (const width of [1280, 390]) {
    await page.setViewportSize({ width, height: 800 });
    for (const path of ["/library", "/workspace", "/account", folder!, "/post"]) {
      await page.goto(path);
      await expect.poll(() => page.evaluate(() => globalThis.earlyPress === undefined)).toBe(true);
      const moved = await page.evaluate(
        () =>
          new Promise<number>((resolve) =>
            requestAnimationFrame(() =>
              setTimeout(() => resolve((window as { moves?: number[] }).moves!.reduce((a, b) => a + b, 0))),
            ),
          ),
      );
      // What a font does to the width of a word in the bar is below it; all that stands beside the bar would be 0.03.
      expect(moved, `${path} at ${width} px`).toBeLessThan(0.01);
    }
  }
});
