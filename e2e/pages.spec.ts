import { expect, test } from "./test";
import { recordedSeconds, signUp, signUpByForm, sound, startRecording, stopAndOpen } from "./steps";

test("every page is sound, empty and full, wide and narrow, and runs under its policy", async ({ page }) => {
  const complaints: string[] = [];
  page.on("console", (m) => m.type() === "error" && !m.text().includes("404") && complaints.push(m.text()));
  page.on("pageerror", (e) => complaints.push(e.message));
  for (const path of ["/", "/sign-in", "/sign-up", "/nowhere"]) {
    await page.goto(path);
    await sound(page, path);
  }
  await signUpByForm(page);
  await sound(page, "empty library");
  for (const place of ["answers", "figures"]) {
    await page.goto(`/${place}`);
    await sound(page, `empty ${place}`);
  }
  await startRecording(page);
  await sound(page, "recording");
  await page.getByRole("button", { name: "Pause" }).click();
  await sound(page, "paused");
  await page.getByRole("button", { name: "Resume" }).click();
  await recordedSeconds(page, 4);
  await stopAndOpen(page);
  await sound(page, "watch page of the owner");
  await page.goto("/library");
  await expect(page.getByText("Ready, only you")).toBeVisible();
  await sound(page, "library");
  await page.goto("/record");
  await expect(page.getByRole("meter")).toBeVisible();
  await sound(page, "ready to record");
  await page.emulateMedia({ colorScheme: "dark" });
  await sound(page, "ready to record, dark");
  await page.goto("/library");
  await sound(page, "library, dark");
  expect(complaints).toEqual([]);
});

test("what is pressed before the page's code has come is done when it has", async ({ page }) => {
  await signUp(page);
  let come = () => {};
  const code = new Promise<void>((resolve) => (come = resolve));
  await page.route(/entry\.client/, async (route) => {
    await code;
    await route.continue();
  });
  await page.goto("/library", { waitUntil: "commit" });
  await page.getByRole("button", { name: "Orla Fenn, account" }).click();
  await expect(page.getByRole("menu")).toHaveCount(0);
  come();
  await expect(page.getByRole("menuitem", { name: "Sign out" })).toBeVisible();
});

test("rename in place, search, sort, delete, undo, share", async ({ page, browser }) => {
  await signUp(page);
  for (const source of ["Voice", "Voice"]) {
    await startRecording(page, source);
    await recordedSeconds(page, 2);
    await stopAndOpen(page);
  }
  const link = page.url();
  await page.goto("/library");
  await expect(page.getByRole("listitem")).toHaveCount(2);
  await page
    .getByRole("button", { name: /^Change the title/ })
    .first()
    .click();
  await page.getByLabel("Title", { exact: true }).fill("  Bedding the ridge   panes ");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "Bedding the ridge panes" })).toBeVisible();
  await page.getByRole("button", { name: "Change the title of Bedding the ridge panes" }).click();
  await page.getByLabel("Title", { exact: true }).fill("Something else");
  await page.keyboard.press("Escape");
  await expect(page.getByRole("heading", { name: "Bedding the ridge panes" })).toBeVisible();

  await page.getByRole("textbox", { name: "Search titles" }).fill("ridge");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("listitem")).toHaveCount(1);
  await page.goto("/library?sort=title");
  await expect(page.getByRole("heading", { level: 3 })).toHaveText(["Bedding the ridge panes", /^Voice/]);

  const stranger = await browser.newContext();
  const guest = await stranger.newPage();
  await page.getByRole("button", { name: "More for Bedding the ridge panes" }).click();
  await page.getByRole("menuitem", { name: "Share with anyone who has the link" }).click();
  await expect(page.getByText("Ready, anyone with the link")).toBeVisible();
  expect((await guest.goto(link))!.status()).toBe(200);
  await expect(guest.getByRole("heading", { name: "Bedding the ridge panes" })).toBeVisible();
  await expect(guest.getByText("Orla Fenn")).toBeVisible();

  await page.getByRole("button", { name: "More for Bedding the ridge panes" }).click();
  await page.getByRole("menuitem", { name: "Delete" }).click();
  await expect(page.getByRole("listitem")).toHaveCount(1);
  const gone = await guest.goto(link);
  expect(gone!.status()).toBe(404);
  expect(await gone!.text()).not.toContain("ridge");
  await page.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByRole("listitem")).toHaveCount(2);
  expect((await guest.goto(link))!.status()).toBe(200);
  await stranger.close();
});

test("signing in: wrong, right, out, and back to where one was going", async ({ page }) => {
  const email = await signUpByForm(page);
  await page.getByRole("button", { name: "Orla Fenn, account" }).click();
  await page.getByRole("menuitem", { name: "Sign out" }).click();
  await expect(page).toHaveURL(/\/sign-in$/);
  await page.goto("/record");
  await expect(page).toHaveURL(/sign-in\?to=%2Frecord/);
  await page.getByLabel("E-mail address").fill(email);
  await page.getByLabel("Password").fill("not the password");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page.getByRole("alert")).toHaveText("Address and password do not fit together.");
  await page.getByLabel("Password").fill("ridge-vent-and-putty");
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(page).toHaveURL(/\/record$/);
});

test("requests from another site's page change nothing", async ({ page, request, baseURL }) => {
  await signUp(page);
  const cookie = (await page.context().cookies()).map((c) => `${c.name}=${c.value}`).join("; ");
  for (const [path, method] of [
    ["/takes", "POST"],
    ["/sign-out", "POST"],
    ["/ingest/6ff2f1c4-0000-4000-8000-000000000000", "DELETE"],
  ] as const) {
    const answer = await request.fetch(`${baseURL}${path}`, {
      method,
      headers: { cookie, origin: "https://elsewhere.example", "sec-fetch-site": "cross-site" },
      data: {},
    });
    expect([path, answer.status()]).toEqual([path, 403]);
  }
  const headers = (await request.get("/sign-in")).headers();
  expect(headers["content-security-policy"]).toMatch(/script-src 'self' 'nonce-[^']+';/);
  expect(headers["x-content-type-options"]).toBe("nosniff");
});
