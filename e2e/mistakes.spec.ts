import type { Page } from "@playwright/test";
import {
  accessible,
  playedTo,
  player,
  playerTime,
  recorded,
  recordedSeconds,
  signUp,
  sound,
  startRecording,
  stopAndOpen,
} from "./steps";
import { expect, test } from "./test";

const plays = (page: Page) => page.evaluate(() => window.clearNodPlayer?.url ?? "");
const groups = (page: Page) => page.getByRole("group", { name: "What could be left out" });

test("what went wrong is proposed to be left out, and who watches moves over with their moment", async ({
  page,
  browser,
}) => {
  await signUp(page);
  await startRecording(page, "Screen and camera", "anyone");
  await recordedSeconds(page, 7);
  await page.getByRole("button", { name: "That went wrong" }).click();
  await expect(page.getByText("Marked")).toBeVisible();
  // The press itself takes its time on a busy machine.
  const late = (await recorded(page)) - 7;
  await recordedSeconds(page, 14 + late);
  const link = await stopAndOpen(page);

  // The voice of the browser's false microphone beeps twice a second: from one beep to another.
  const proposal = groups(page);
  await expect(proposal).toContainText("You said that something went wrong here.");
  const [from, to] = (await proposal.textContent())!.match(/\d:\d\d/g)!.map((clock) => Number(clock.slice(2)));
  expect([from! >= 4 && from! <= 7 + late, to! >= 6 && to! <= 9 + late], `${from} to ${to}`).toEqual([true, true]);
  await accessible(page, "a proposal");

  const theirs = await browser.newContext();
  const guest = await theirs.newPage();
  await guest.goto(link);
  await guest.getByRole("button", { name: /^Play, 0:1/ }).click();
  await player.seek(guest, (10 + late) * 1e6);
  await playedTo(guest, 10.5 + late);
  await guest.getByRole("textbox", { name: "Comment at this moment" }).fill("What is this for?");
  const before = (await player.snapshot(guest)).time;
  const { duration } = await player.snapshot(guest);

  // As if it were left out: it steps over the stretch, and stands still after it.
  await page.getByRole("button", { name: "Play it without" }).click();
  await expect.poll(() => playerTime(page), { timeout: 20_000 }).toBeGreaterThan(to! + 1.5);
  await expect.poll(async () => (await player.snapshot(page)).playing, { timeout: 20_000 }).toBe(false);

  await page.getByRole("button", { name: "Leave it out" }).click();
  await expect.poll(() => plays(page), { timeout: 30_000 }).toContain("/r2/");
  await expect(page.getByRole("button", { name: /^Left out: 1 stretch, 0:\d\d$/ })).toBeVisible();
  await expect(groups(page)).toHaveCount(0);
  await expect.poll(() => plays(guest), { timeout: 30_000 }).toContain("/r2/");
  await expect.poll(async () => (await player.snapshot(guest)).duration).toBeLessThan(duration - 0.3e6);
  const cut = duration - (await player.snapshot(guest)).duration;
  // The guest is where they were, and so is the comment that they are writing.
  await expect.poll(async () => Math.abs((await player.snapshot(guest)).time - (before - cut))).toBeLessThan(0.3e6);
  await guest.getByRole("button", { name: "Comment", exact: true }).click();
  await guest.getByRole("textbox", { name: "Your name" }).fill("Wren Thistle");
  await guest.getByRole("button", { name: "Go on", exact: true }).click();
  const moment = (of: Page) => of.getByRole("button", { name: /^Go to \d+ seconds?$/ });
  const at = Number((await moment(guest).getAttribute("aria-label"))!.match(/\d+/)![0]);
  expect(Math.abs(at - (before - cut) / 1e6)).toBeLessThanOrEqual(1.1);
  // It plays over the join, and to the end.
  await player.seek(guest, Math.max(0, from! * 1e6 - 1.5e6));
  await player.play(guest);
  await playedTo(guest, from! + 2);
  expect((await player.snapshot(guest)).problem).toBeNull();
  await expect.poll(async () => (await player.snapshot(guest)).ended, { timeout: 30_000 }).toBe(true);
  expect((await guest.request.get(`${new URL(link).pathname}/r1/screen/1.m4s`)).status()).toBe(404);

  // And back again, as it was recorded.
  await page.getByRole("button", { name: /^Left out/ }).click();
  await sound(page, "what is left out");
  await page.getByRole("button", { name: /^Put back/ }).click();
  await expect.poll(() => plays(page), { timeout: 30_000 }).toContain("/r3/");
  await expect(page.getByRole("button", { name: /^Left out/ })).toHaveCount(0);
  await expect.poll(async () => Math.abs((await player.snapshot(page)).duration - duration)).toBeLessThan(0.1e6);
  // What is refused is not proposed again.
  await page.getByRole("button", { name: "Keep it in" }).click();
  const told = page.waitForResponse((response) => response.url().includes("/cuts"));
  await page.reload();
  await told;
  await expect(groups(page)).toHaveCount(0);

  // Nobody else may change it, or ask what was cut.
  const id = (await page.locator("[data-recording]").getAttribute("data-recording")) ?? "";
  for (const answer of [
    await guest.request.get(`/recordings/${id}/cuts`),
    await guest.request.post(`/recordings/${id}`, { form: { do: "leave-out", from: "0", to: "1000000", seen: "3" } }),
  ])
    expect(answer.status()).toBe(401);
  const change = (form: Record<string, string>) => page.request.post(`/recordings/${id}`, { form });
  for (const [form, status] of [
    [{ do: "leave-out", from: "0", to: "900000000", seen: "3" }, 422],
    [{ do: "leave-out", from: "0", to: "x", seen: "3" }, 422],
    [{ do: "leave-out", from: "0", to: "1000000", seen: "2" }, 409],
    [{ do: "put-back", from: "0", to: "99999999999999", seen: "3" }, 422],
  ] as const)
    expect([form, (await change(form)).status()]).toEqual([form, status]);
  const place = (query: string) => guest.request.get(`${new URL(link).pathname}/place?${query}`);
  for (const [query, status] of [
    ["revision=1&at=10000000", 200],
    ["revision=9&at=0", 404],
    ["revision=1", 422],
    ["revision=1&at=-1", 422],
    ["revision=1&at=x", 422],
    [`revision=1&${"at=1&".repeat(5)}`, 422],
  ] as const)
    expect([query, (await place(query)).status()]).toEqual([query, status]);
  await theirs.close();
});
