import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { giveName, playedTo, player, playerTime, sharedTake, signUp } from "./steps";

const composer = (page: Page) => page.getByRole("textbox", { name: "Comment at this moment" });
const comments = (page: Page) => page.getByRole("list", { name: "Comments in order of time" });

/** What the people table says was seen, in seconds, by name. */
async function seenSeconds(page: Page, recordingId: string): Promise<Record<string, number>> {
  const fields = (row: string) => row.split(/,(?=(?:[^"]*"[^"]*")*[^"]*$)/);
  const rows = (await (await page.request.get(`/figures/${recordingId}/people.csv`)).text())
    .trim()
    .split("\r\n")
    .slice(1);
  return Object.fromEntries(rows.map(fields).map((row) => [row[0]!, Number(row[6])]));
}

test("a guest watches parts, comments, replies, reacts, does not understand, then nods; the sender sees each arrive", async ({
  page,
  browser,
}) => {
  await signUp(page);
  const { link, recordingId } = await sharedTake(page, 40);
  await page.goto(link);
  await expect(page.getByText("Nobody else has it open now")).toBeVisible();
  await page.getByRole("button", { name: "Ask for a nod or an answer" }).click();
  await page.getByRole("combobox", { name: "What do you need back?" }).click();
  await page.getByRole("option", { name: "A nod" }).click();
  await page.getByLabel("Question (you may leave it out)").fill("Is it clear how it closes?");
  await page.getByRole("button", { name: "Ask", exact: true }).click();
  // The dialog goes when the server has answered.
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await expect(page.getByText("Is it clear how it closes?")).toBeVisible();

  const guest = await (await browser.newContext()).newPage();
  await guest.goto(link);
  await expect(guest.getByRole("heading", { name: "Is it clear how it closes?" })).toBeVisible();
  await expect(page.getByText("1 watching now")).toBeVisible();

  // From the start for some seconds; then elsewhere, twice as fast.
  const parts: [number, number][] = [];
  await guest.getByRole("button", { name: "Play, 0:40" }).click();
  await playedTo(guest, 4);
  await composer(guest).pressSequentially("Why is the *putty* left off here?");
  expect((await player.snapshot(guest)).playing).toBe(false);
  const paused = await playerTime(guest);
  parts.push([0, paused]);
  await guest.getByRole("slider", { name: "End of the stretch" }).press("ArrowRight");
  await guest.getByRole("slider", { name: "End of the stretch" }).press("ArrowRight");
  expect(await playerTime(guest)).toBe(paused);
  await guest.getByRole("button", { name: "Comment", exact: true }).click();
  await giveName(guest, "Ida Marsh");
  await expect(comments(page).getByText("Why is the putty left off here?")).toBeVisible();
  await expect(comments(page).locator("strong", { hasText: "putty" })).toBeVisible();
  const second = Math.floor(paused);
  await expect(comments(page).getByRole("button", { name: new RegExp(`^Go to ${second} seconds`) })).toHaveText(
    `0:0${second} to 0:0${second + 2}`,
  );
  await expect(page.getByRole("button", { name: /^Ida Marsh: Why is the/ })).toBeVisible();

  await page.getByRole("button", { name: "Reply" }).click();
  await page.getByRole("textbox", { name: "Your reply" }).fill("It comes last.");
  await page.getByRole("button", { name: "Reply", exact: true }).click();
  await expect(comments(guest).getByText("It comes last.")).toBeVisible();
  await guest.getByRole("button", { name: "Reply" }).click();
  await guest.getByRole("textbox", { name: "Your reply" }).fill("I see");
  await guest.keyboard.press("Control+Enter");
  await expect(comments(page).getByText("I see")).toBeVisible();
  await page.getByRole("button", { name: "Settle" }).click();
  await expect(comments(guest).getByText("Settled")).toBeVisible();

  await player.seek(guest, 20_000_000);
  await guest.getByLabel("Speed").click();
  await guest.getByRole("option", { name: "2×", exact: true }).click();
  await guest.getByRole("button", { name: "Play", exact: true }).click();
  await playedTo(guest, 27);
  await guest.keyboard.press("3");
  await expect(page.getByRole("button", { name: /^Good point, at/ })).toBeVisible();
  await guest.getByRole("button", { name: "Not clear yet" }).click();
  parts.push([20, await playerTime(guest)]);
  await guest.getByRole("textbox", { name: /What is not clear/ }).fill("The rod");
  await guest.getByRole("button", { name: "Say it is not clear" }).click();
  await expect(page.getByText(/Answered: 1/)).toBeVisible();
  await page.getByRole("tab", { name: "People" }).click();
  await expect(page.getByText("Not clear yet: The rod")).toBeVisible();
  await guest.getByRole("button", { name: "Change it" }).click();
  await guest.getByRole("button", { name: "Nod: it is clear" }).click();
  await expect(page.getByRole("region", { name: "Answered" }).getByText("Nodded")).toBeVisible();
  await guest.getByRole("button", { name: /^Take back Good point at/ }).click();
  await expect(page.getByRole("button", { name: /^Good point, at/ })).toHaveCount(0);

  // A nod given cannot be changed once the sender has closed the ask.
  await page.getByRole("button", { name: "Close the question" }).click();
  await expect(guest.getByText("This is closed; your answer stays as it is.")).toBeVisible();

  const watched = parts.reduce((sum, [from, to]) => sum + to - from, 0);
  await expect
    .poll(async () => Math.abs((await seenSeconds(page, recordingId))["Ida Marsh"]! - watched), { timeout: 20_000 })
    .toBeLessThanOrEqual(1);
  await page.goto(`/figures/${recordingId}`);
  const seen = await page
    .getByRole("row", { name: /Ida Marsh.*Nodded/ })
    .getByRole("cell")
    .nth(4)
    .textContent();
  // One second of forty.
  expect(Math.abs(Number(/^(\d+) %/.exec(seen!)![1]) - (100 * watched) / 40)).toBeLessThanOrEqual(3);
  await page.getByRole("link", { name: "Answers" }).click();
  await expect(page.getByRole("heading", { name: "Question from Ida Marsh" })).toBeVisible();
  await page.getByRole("button", { name: "Mark all as read" }).click();
  await expect(page.getByText("new", { exact: true })).toHaveCount(0);
  await guest.context().close();
});

test("what is watched without a connection arrives later, once", async ({ page, browser }) => {
  await signUp(page);
  const { link, recordingId } = await sharedTake(page, 20);
  const context = await browser.newContext();
  const guest = await context.newPage();
  await guest.goto(link);
  await expect
    .poll(() => guest.evaluate(() => window.clearNodPlayer?.snapshot().buffered ?? 0))
    .toBeGreaterThan(18_000_000);
  await context.setOffline(true);
  await guest.getByRole("button", { name: "Play, 0:20" }).click();
  await playedTo(guest, 5);
  await guest.getByRole("button", { name: "Pause", exact: true }).click();
  const watched = await playerTime(guest);
  await expect
    .poll(() => guest.evaluate(() => Object.keys(localStorage).some((k) => k.startsWith("clear-nod-spans"))))
    .toBe(true);
  expect((await seenSeconds(page, recordingId))["Unnamed guest"]).toBe(0);
  await context.setOffline(false);
  await expect
    .poll(async () => Math.abs((await seenSeconds(page, recordingId))["Unnamed guest"]! - watched), { timeout: 20_000 })
    .toBeLessThanOrEqual(1);
  await guest.reload();
  await guest.close();
  expect(Math.abs((await seenSeconds(page, recordingId))["Unnamed guest"]! - watched)).toBeLessThanOrEqual(1);
  await context.close();
});

test("script in every text field stays text, and a guest's words stay theirs", async ({ page, browser }) => {
  const bad = (n: number) => `<img src=x onerror="window.hacked=${n}"><script>window.hacked=${n}</script>`;
  await signUp(page, bad(1).slice(0, 80));
  const { link, recordingId } = await sharedTake(page, 6, bad(2));
  await page.request.post(`/recordings/${recordingId}`, {
    form: {
      do: "ask",
      ask: JSON.stringify({ kind: "choice", question: bad(3), choices: [bad(4), "Bead"] }),
      version: "0",
    },
  });
  await page.request.post(`/recordings/${recordingId}`, { form: { do: "invite", who: "javascript:alert(1)" } });
  const guest = await (await browser.newContext()).newPage();
  await guest.goto(link);
  await composer(guest).fill(
    `${bad(5)} javascript:alert(1) [x](javascript:alert(1)) https://ok.test/"onmouseover="window.hacked=6`,
  );
  await guest.getByRole("button", { name: "Comment", exact: true }).click();
  await giveName(guest, bad(7).slice(0, 80));
  await guest.getByRole("button", { name: "Not clear yet" }).click();
  await guest.getByRole("textbox", { name: /What is not clear/ }).fill(bad(8));
  await guest.getByRole("button", { name: "Say it is not clear" }).click();
  await expect(guest.getByText("Your answer:")).toBeVisible();
  for (const path of [link, "/answers", `/figures/${recordingId}`, "/figures", "/library"]) {
    await page.goto(path);
    await expect(page.getByText("<img src=x").first()).toBeVisible();
    expect(await page.evaluate(() => (window as unknown as { hacked?: number }).hacked)).toBeUndefined();
    expect(await page.locator("main a[href^='javascript'], main img[src=x]").count()).toBe(0);
  }

  // Another browser: no buttons for it, and none of the addresses behind them either.
  const other = await (await browser.newContext()).newPage();
  await other.goto(link);
  await expect(comments(other).getByText("javascript:alert(1)").first()).toBeVisible();
  await expect(other.getByText(/sees what you watched, as an unnamed guest/)).toBeVisible();
  await expect(other.getByRole("button", { name: /^Change your comment/ })).toHaveCount(0);
  await expect(guest.getByRole("button", { name: /^Change your comment/ })).toHaveCount(1);
  const id = (await comments(other).getByRole("listitem").first().getAttribute("id"))!.slice(2);
  const say = async (from: Page, data: object) =>
    (await from.request.post(`${new URL(link).pathname}/say`, { data })).status();
  expect(await say(other, { do: "edit", id, body: "taken over", version: 1 })).toBe(403);
  expect(await say(other, { do: "remove", id })).toBe(403);
  expect(await say(other, { do: "comment", body: "x", at: 999_000_000 })).toBe(422);
  expect(await say(other, { do: "settle", id, settled: true })).toBe(403);
  const floods = await Promise.all(
    Array.from({ length: 30 }, (_, i) =>
      other.request.post(`${new URL(link).pathname}/say`, { data: { do: "comment", body: `${i}`, at: 0 } }),
    ),
  );
  expect(floods.filter((f) => f.status() === 429).length).toBeGreaterThan(0);
  expect((await floods.find((f) => f.status() === 429)!.json()).message).toMatch(
    /many comments in a minute.*go on in \d+ seconds/,
  );
  await guest.context().close();
  await other.context().close();
});

test("a personal link names its person; who asks not to be named is only counted; a linked moment is played", async ({
  page,
  browser,
}) => {
  await signUp(page);
  const { link, recordingId } = await sharedTake(page, 20);
  await page.goto(link);
  await page.getByRole("tab", { name: "People" }).click();
  await page.getByLabel("Whom do you ask?").fill("Wren Holt, a@b");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await expect(page.getByText(/These are no addresses: a@b/)).toBeVisible();
  await page.getByLabel("Whom do you ask?").fill("Wren Holt");
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await page.getByRole("button", { name: "Copy the personal link of Wren Holt" }).click();
  const personal = await page.evaluate(() => navigator.clipboard.readText());
  expect(personal).toMatch(/\/for\/[\w-]{16}$/);

  const wren = await (await browser.newContext()).newPage();
  await wren.goto(personal);
  await expect(page.getByRole("region", { name: "Opened", exact: true }).getByText("Wren Holt")).toBeVisible();
  // The address can be passed on: it does not carry the person any more.
  await expect.poll(() => wren.url()).toBe(link);

  const shy = await browser.newContext({ extraHTTPHeaders: { "sec-gpc": "1" } });
  const hidden = await shy.newPage();
  await hidden.goto(`${link}#t=12.5`);
  await expect(hidden.getByText("Your browser asks not to be followed: you are counted, and not named.")).toBeVisible();
  await expect(page.getByText("1 more asked not to be named; 0 of them watched.")).toBeVisible();
  await hidden.getByRole("button", { name: "Go on at 0:12" }).click();
  await playedTo(hidden, 14);
  await hidden.getByRole("button", { name: "Pause", exact: true }).click();
  await expect
    .poll(
      async () =>
        (await (await page.request.get(`/figures/${recordingId}/statements.json`)).text()).includes("12.5[.]"),
      { timeout: 15_000 },
    )
    .toBe(true);
  await wren.context().close();
  await shy.close();
});
