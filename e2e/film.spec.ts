import { readFileSync } from "node:fs";
import type { Page } from "@playwright/test";
import sharp, { type Sharp } from "sharp";
import type { Dress } from "../core/recipe/dress";
import { dressed } from "../core/recipe/dress";
import { momentOf } from "../core/recipe/frames";
import { act, begun } from "../core/recipe/history";
import { pictureAt } from "../testing/media";
import { expect, test } from "./test";
import { another, fold, player, putTake, sharedTake, signUp, sound } from "./steps";

const TITLE = "How the ridge vent closes";
const SECONDS = 12;
/** As fine as they are compared: that lines are drawn and shrunk another way is not seen. */
const SIZE = { width: 64, height: 36 };

const s = (seconds: number) => momentOf(Math.round(seconds * 30));
const mark = (
  tool: "arrow" | "box" | "ellipse" | "number" | "text" | "highlighter" | "pen",
  path: number[],
  text = "",
) => ({
  ...{ from: s(1), to: s(11) },
  mark: { tool, colour: "clay" as const, path, text, staysMs: null, clearedAt: null },
});
/** Something of everything that is drawn. */
const DRESS: Dress = {
  scenes: {
    [s(3)]: {
      ...{ from: s(3), to: s(6) },
      arranged: { scene: "inset", place: "top-left", size: "large", shape: "tile", fade: 250_000 },
    },
    [s(6)]: {
      ...{ from: s(6), to: s(8) },
      arranged: { scene: "beside", place: "right", size: "medium", shape: "arch", fade: 0 },
    },
    [s(8)]: {
      ...{ from: s(8), to: s(9) },
      arranged: { scene: "camera", place: "right", size: "medium", shape: "arch", fade: 0 },
    },
  },
  zooms: { [s(4)]: { from: s(4), to: s(7), place: { x: 0.3, y: 0.4, width: 0.5, height: 0.5 } } },
  views: {
    screen: { turn: 180, tilt: 4, crop: { x: 0.05, y: 0.1, width: 0.9, height: 0.85 } },
    camera: { turn: 0, tilt: 0, crop: { x: 0.2, y: 0.1, width: 0.6, height: 0.8 } },
  },
  marks: {
    a: mark("arrow", [0.2, 0.3, 0, 0.45, 0.55, 300]),
    b: mark("number", [0.6, 0.3, 0], "3"),
    c: mark("text", [0.3, 0.75, 0], "Warm it first"),
    d: mark("highlighter", [0.1, 0.5, 0, 0.5, 0.5, 100, 0.6, 0.52, 200]),
    e: mark("ellipse", [0.55, 0.5, 0, 0.75, 0.7, 100]),
  },
};

/** Publishes a recording as it is dressed here, by the doors that the edit page uses. */
async function dress(page: Page, recordingId: string, link: string): Promise<void> {
  await page.goto(`/recordings/${recordingId}/edit`);
  const kept = [{ from: 0, to: s(SECONDS) }];
  const puts = Object.entries(DRESS).flatMap(([facet, things]) =>
    Object.entries(things as object).map(([id, value]) => ({ facet, id, value }) as never),
  );
  expect(Object.keys(dressed({}, puts))).toEqual(Object.keys(DRESS));
  const history = act(begun({ kept, dress: {} }), { kept, dress: {} }, { do: "dress", puts }, []);
  const post = (form: Record<string, string>) => page.request.post(`/recordings/${recordingId}/draft.data`, { form });
  const by = crypto.randomUUID();
  await post({ do: "save", version: "0", seen: "1", by, history: JSON.stringify(history) });
  await post({ do: "publish", version: "1", seen: "1" });
  await expect
    .poll(async () => (await page.request.get(`${link}/r2/main.m3u8`)).status(), { timeout: 30_000 })
    .toBe(200);
}

/** The film of the sample screen. */
const FILM = { width: 640, height: 360 };
const small = (picture: Sharp) =>
  picture.resize(SIZE.width, SIZE.height, { fit: "fill" }).removeAlpha().raw().toBuffer();

/** What the page shows of a recording at a moment, without anything that lies over it. */
async function seenAt(page: Page, seconds: number): Promise<Buffer> {
  await player.stand(page, s(seconds) + 10_000);
  const frame = page.locator("[data-main]").locator("..");
  return small(sharp(await frame.screenshot()));
}

test("a recording is one file, which shows what its page shows", async ({ page, browser }, testInfo) => {
  await signUp(page);
  const { link, recordingId } = await sharedTake(page, SECONDS, TITLE);
  await dress(page, recordingId, link);

  await page.goto(link);
  await page
    .getByRole("button", { name: /can open it|Anyone with the link/ })
    .first()
    .click();
  await fold(page, "As a file").click();
  await expect(fold(page, "As a file")).toContainText("not made yet");
  await page.getByRole("button", { name: "Make the file" }).click();
  await expect(fold(page, "As a file")).toContainText(/being made/);
  // Given up, and wanted again.
  await page.getByRole("button", { name: "Do not make it" }).click();
  await expect(fold(page, "As a file")).toContainText("not made yet");
  await page.getByRole("button", { name: "Make the file" }).click();
  const download = page.getByRole("link", { name: /^Download, / });
  await expect(download).toBeVisible({ timeout: 90_000 });
  await sound(page, "a recording as a file");
  const coming = page.waitForEvent("download");
  await download.click();
  const file = await coming;
  expect(file.suggestedFilename()).toBe(`${TITLE}.mp4`);
  const film = readFileSync(await file.path());

  // Others may not have it, until that is allowed.
  const guest = await another(browser);
  await guest.goto(link);
  await expect(guest.getByRole("heading", { name: TITLE })).toBeVisible();
  await expect(guest.getByRole("link", { name: /^Download/ })).toHaveCount(0);
  expect((await guest.request.get(`${link}/film`)).status()).toBe(404);
  await page.getByRole("button", { name: /^May they have it as a file/ }).click();
  await page.getByRole("menuitemradio", { name: "may download it", exact: true }).click();
  await expect(page.getByText("Those who can open it can download it.")).toBeVisible();
  await guest.reload();
  await expect(guest.getByRole("link", { name: /^Download, / })).toBeVisible();
  await sound(guest, "a recording that can be downloaded");
  expect((await guest.request.get(`${link}/film`)).status()).toBe(200);

  // Outside check: what Chromium draws of the page, against what ffmpeg drew of the file.
  await guest.getByRole("button", { name: /^Play,/ }).click();
  await expect.poll(() => player.snapshot(guest).then(({ time }) => time)).toBeGreaterThan(200_000);
  await player.pause(guest);
  for (const seconds of [2, 3.6, 5.5, 6.5, 8.5, 10]) {
    const onPage = await seenAt(guest, seconds);
    const raw = { ...FILM, channels: 3 as const };
    const inFilm = await small(sharp(pictureAt(film, Math.round(seconds * 30)), { raw }));
    const name = `film-${seconds}`;
    await testInfo.attach(name, { body: await beside(onPage, inFilm), contentType: "image/png" });
    expect(differs(onPage, inFilm), name).toBeLessThan(7);
  }
});

/** By how much two pictures differ, of 255, on the average of all places and colours. */
const differs = (a: Buffer, b: Buffer) => a.reduce((sum, value, i) => sum + Math.abs(value - b[i]!), 0) / a.length;

const beside = (a: Buffer, b: Buffer) => {
  const raw = { width: SIZE.width, height: SIZE.height, channels: 3 as const };
  return sharp({ create: { ...raw, width: 2 * raw.width, background: "#000" } })
    .composite([
      { input: a, raw, left: 0, top: 0 },
      { input: b, raw, left: raw.width, top: 0 },
    ])
    .png()
    .toBuffer();
};

test("a voice alone is a file of its sound", async ({ page }) => {
  await signUp(page);
  const { link } = await putTake(page, 5, { source: "voice", title: TITLE });
  await page.goto(link);
  await page
    .getByRole("button", { name: /^Draft: only you/ })
    .first()
    .click();
  await fold(page, "As a file").click();
  await page.getByRole("button", { name: "Make the file" }).click();
  const download = page.getByRole("link", { name: /^Download, / });
  await expect(download).toBeVisible({ timeout: 60_000 });
  const coming = page.waitForEvent("download");
  await download.click();
  expect((await coming).suggestedFilename()).toBe(`${TITLE}.m4a`);
});
