import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { accessible, fold, player, recordedSeconds, signUp, startRecording, stopAndOpen } from "./steps";

const line = (page: Page) => page.getByRole("group", { name: "What was recorded" });
/** Drags from one share of an element to another. */
async function drag(page: Page, selector: string, from: [number, number], to: [number, number]): Promise<void> {
  const box = (await page.locator(selector).boundingBox())!;
  const at = ([x, y]: [number, number]) => [box.x + box.width * x, box.y + box.height * y] as const;
  await page.mouse.move(...at(from));
  await page.mouse.down();
  await page.mouse.move(...at(to), { steps: 8 });
  await page.mouse.up();
}
const choose = (page: Page, from: number, to: number) =>
  drag(page, '[role=group][aria-label="What was recorded"]', [from, 0.45], [to, 0.45]);
const steps = (page: Page) => page.getByRole("group", { name: "What was done" }).getByRole("listitem");
const saved = (page: Page) => expect(page.getByText("Saved", { exact: true })).toBeVisible();
const time = (page: Page) => page.evaluate(() => (window.clearNodPlayer?.snapshot().time ?? -1) / 1e6);
const seek = async (page: Page, share: number) => {
  await player.pause(page);
  await player.seek(page, (await player.snapshot(page)).duration * share);
};
const camera = (page: Page) => page.getByTestId("inset");
const zoomed = (page: Page) => page.locator("[data-zoomed]").getAttribute("data-zoomed");

const ROOF = `<svg xmlns="http://www.w3.org/2000/svg" width="90" height="60"><path d="M0 60L45 0L90 60Z"/></svg>`;
/** What begins together is in any order. */
const ALL_DRAWN = /^Drawn: (?=.*picture)(?=.*box)(?=.*Twelve of them)/;
/** Has the picture of a mark come? */
const loaded = (page: Page) =>
  page.evaluate(async () => {
    const href = document.querySelector("[data-testid=marks] image")?.getAttribute("href");
    const image = new Image();
    image.src = href ?? "";
    await image.decode().catch(() => undefined);
    return image.naturalWidth === 90;
  });

test("pictures are arranged for a stretch, brought nearer, cut, and drawn on; a guest sees that, and no more", async ({
  page,
  browser,
}) => {
  await signUp(page);
  await startRecording(page, "Screen and camera", "anyone");
  await recordedSeconds(page, 13);
  const link = await stopAndOpen(page);
  await page.getByRole("link", { name: "Edit", exact: true }).click();
  await expect(line(page)).toBeVisible();

  // The camera is hidden from a third of it on; the screen comes nearer at the end of that.
  await choose(page, 0.34, 0.99);
  await fold(page, "Layers").click();
  await page.getByRole("group", { name: "Scene" }).getByRole("button", { name: "Screen alone" }).click();
  await expect(steps(page)).toHaveText([/^Layers at 0:0[3-7]$/]);
  await choose(page, 0.6, 0.8);
  await page.getByRole("button", { name: "Zoom into a place" }).click();
  const dialog = page.getByRole("dialog", { name: "What comes nearer" });
  await accessible(page, "choosing a place that comes nearer");
  await dialog.getByLabel(/^The area/).focus();
  await page.keyboard.press("Shift+ArrowLeft");
  await dialog.getByRole("button", { name: "Zoom into this" }).click();
  await expect(steps(page)).toHaveText([/^Zoom at/, /^Layers at/]);
  await seek(page, 0.2);
  await expect(camera(page)).toBeVisible();
  expect(await zoomed(page)).toBe("false");
  await seek(page, 0.7);
  await expect(camera(page)).toBeHidden();
  await expect.poll(() => zoomed(page)).toBe("true");

  // Turned and straightened, and as it was recorded again.
  const main = page.locator("[data-layer=main]");
  const upright = (await main.boundingBox())!;
  await page.getByRole("button", { name: "Cut or turn: Screen" }).click();
  await page.getByRole("button", { name: "Turn right" }).click();
  await page.getByRole("slider", { name: "Straighten" }).focus();
  await page.keyboard.press("ArrowRight");
  await page.getByRole("button", { name: "Show this" }).click();
  await expect(steps(page).first()).toHaveText("Cut or turned: the screen");
  await expect.poll(async () => (await main.boundingBox())!.height).toBeGreaterThan(upright.height * 0.9);
  await expect.poll(async () => (await main.boundingBox())!.width).toBeLessThan(upright.width * 0.7);
  await page.keyboard.press("Control+z");
  await expect(steps(page)).toHaveCount(2);
  await expect.poll(async () => Math.round((await main.boundingBox())!.width)).toBe(Math.round(upright.width));

  // Drawn on all of the picture, and written by keys.
  await fold(page, "Drawn on it").click();
  await page.getByRole("button", { name: "Draw on the picture" }).click();
  await page.getByRole("button", { name: "Box", exact: true }).click();
  await drag(page, "[data-layer=main]", [0.3, 0.3], [0.6, 0.6]);
  await page.getByRole("button", { name: "Text", exact: true }).click();
  await page.getByRole("application", { name: /^Draw on the picture/ }).focus();
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("Enter");
  await page.keyboard.type("Twelve of them");
  await page.keyboard.press("Enter");
  await expect(page.getByText("“Twelve of them”")).toBeVisible();
  await accessible(page, "drawing while editing");
  await page.getByRole("button", { name: "Stop drawing" }).click();
  await expect(page.getByRole("img", { name: "Drawn: box, Twelve of them" })).toBeVisible();
  await seek(page, 0.2);
  await expect(page.getByRole("img", { name: /^Drawn:/ })).toHaveCount(0);

  // A drawing from this computer, where it is dragged to; what is no picture is refused.
  await choose(page, 0.6, 0.8);
  await seek(page, 0.7);
  const file = (name: string, text: string) => ({ name, mimeType: "image/svg+xml", buffer: Buffer.from(text) });
  await page.getByLabel("Put a picture on").setInputFiles(file("none.svg", "<p>no picture</p>"));
  await expect(page.getByText(/^This is no picture that can be taken/)).toBeVisible();
  await page.getByLabel("Put a picture on").setInputFiles(file("roof.svg", ROOF));
  await expect(page.getByText(/^Drag on the picture where it is to be/)).toBeVisible();
  await drag(page, "[data-layer=main]", [0.1, 0.1], [0.3, 0.2]);
  await expect(page.getByRole("img", { name: ALL_DRAWN })).toBeVisible();
  await expect.poll(() => loaded(page)).toBe(true);

  // Music under it, and it comes slowly.
  await fold(page, "Sound").click();
  await page.getByRole("group", { name: "Tune" }).getByRole("button", { name: "Dew" }).click();
  await page.getByRole("slider", { name: "Comes slowly" }).focus();
  await page.keyboard.press("ArrowRight");
  await expect(steps(page).first()).toHaveText("Fade at the beginning");
  await accessible(page, "the sound of an edit");

  // A card before it and one after it; an address that is none is not taken.
  await fold(page, "Cards").click();
  await page.getByRole("button", { name: "A card at the beginning" }).click();
  await page.getByRole("button", { name: "A card at the end" }).click();
  const closing = page.getByRole("group", { name: "Card at the end" });
  await closing.getByLabel("Next step").fill("Order the panes");
  await closing.getByLabel("Address it leads to").fill("javascript:alert(1)");
  await page.keyboard.press("Enter");
  await expect(closing.getByText("An address begins with https://")).toBeVisible();
  await closing.getByLabel("Address it leads to").fill("https://glass.example/order");
  await page.keyboard.press("Enter");
  await expect(steps(page).first()).toHaveText("Card at the end changed");
  await accessible(page, "cards of an edit");
  await saved(page);
  const done = await steps(page).allTextContents();
  await page.reload();
  await expect(steps(page)).toHaveText(done);
  await page.getByRole("button", { name: "Publish" }).click();
  await expect(page.getByText("This is what everybody sees")).toBeVisible();

  // A guest: the card, then the recording from its first moment; and what is hidden is not sent at all.
  const guest = await (await browser.newContext()).newPage();
  const refused: string[] = [];
  const sent: string[] = [];
  guest.on("response", (answer) => {
    if (!answer.url().includes("/camera/")) return;
    (answer.status() === 200 ? sent : refused).push(answer.url());
  });
  await guest.addInitScript(`
    window.tunes = [];
    const Made = window.Audio;
    window.Audio = function (url) {
      const audio = new Made(url);
      window.tunes.push(audio);
      return audio;
    };`);
  const playing = () => guest.evaluate("window.tunes.filter((tune) => !tune.paused).map((tune) => tune.src)");
  await guest.goto(link);
  await expect(guest.getByTestId("card")).toBeVisible();
  await guest.getByRole("button", { name: /^Play,/ }).click();
  await expect(guest.getByTestId("card")).toBeVisible();
  await guest.getByRole("button", { name: "Go on", exact: true }).click();
  await expect(guest.getByTestId("card")).toBeHidden();
  await expect.poll(() => time(guest)).toBeGreaterThan(0.5);
  await expect(camera(guest)).toBeVisible();
  await expect.poll(playing).toEqual([expect.stringMatching(/\/music\/dew\.m4a$/)]);
  await seek(guest, 0.7);
  await expect.poll(playing).toEqual([]);
  await expect(camera(guest)).toBeHidden();
  await expect.poll(() => zoomed(guest)).toBe("true");
  await expect(guest.getByRole("img", { name: ALL_DRAWN })).toBeVisible();
  await expect.poll(() => loaded(guest)).toBe(true);
  const playlist = (await guest.evaluate(
    `fetch(window.clearNodPlayer.url.replace(/[^/]*$/, "camera.m3u8")).then((a) => a.text())`,
  )) as string;
  const gaps = [...playlist.matchAll(/#EXT-X-GAP\n.*\n(.*)/g)].map(([, uri]) => uri!);
  expect(gaps.length).toBeGreaterThan(0);
  const folder = new URL((await guest.evaluate("window.clearNodPlayer.url")) as string, link).href;
  for (const uri of gaps) expect((await guest.request.get(new URL(uri, folder).href)).status()).toBe(404);
  // It plays on through what is hidden, to the card at the end.
  await player.seek(guest, (await player.snapshot(guest)).duration - 2_000_000);
  await player.play(guest);
  await expect(guest.getByRole("link", { name: "Order the panes" })).toHaveAttribute(
    "href",
    "https://glass.example/order",
  );
  await accessible(guest, "the card at the end");
  expect([refused, sent.length > 1]).toEqual([[], true]);
  await guest.close();
});
