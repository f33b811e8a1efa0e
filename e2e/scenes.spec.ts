import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { chooseSurface, phase, player, recordedSeconds, signUp, stopAndOpen } from "./steps";

const scene = (page: Page, name: string) => page.getByRole("button", { name, exact: true });

/** What a viewer sees: of each picture that is seen, left and top, width and height in hundredths of the frame. */
const SEEN = `(() => {
  const frame = document.querySelector("[data-main]").parentElement.getBoundingClientRect();
  const of = (element) => {
    const style = getComputedStyle(element);
    if (style.visibility === "hidden" || Number(style.opacity) < 1) return null;
    const box = element.getBoundingClientRect();
    return [box.x - frame.x, box.y - frame.y, box.width, box.height].map((n, i) =>
      Math.round((100 * n) / (i % 2 ? frame.height : frame.width)));
  };
  return {
    screen: of(document.querySelector("[data-main]")),
    camera: of(document.querySelector("[data-testid=inset]")),
  };
})()`;
type Box = [number, number, number, number] | null;
const seenAt = async (page: Page, at: number) => {
  await player.stand(page, Math.round(at * 1e6));
  return (await page.evaluate(SEEN)) as { screen: Box; camera: Box };
};

test("scenes and places that are chosen while recording are seen at their moment", async ({ page, browser }) => {
  await signUp(page);
  await page.goto("/record");
  await page.getByLabel("Who can open the link").click();
  await page.getByRole("option", { name: /Anyone with the link/ }).click();
  await expect(page.getByLabel("Camera preview")).toBeVisible();
  await chooseSurface(page);
  // Dropped anywhere, it stands at the nearest place of the grid.
  const inset = page.getByTestId("inset");
  const [stage, box] = [(await page.getByLabel("Screen preview").boundingBox())!, (await inset.boundingBox())!];
  await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await page.mouse.down();
  await page.mouse.move(stage.x + stage.width * 0.6, stage.y + stage.height * 0.2, { steps: 5 });
  await page.mouse.up();
  await expect(page.getByRole("combobox", { name: "Place" })).toHaveText("Top");
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });

  const changes: number[] = [];
  // The page itself notes when something is pressed: on a slow machine the test hears of it much later.
  await page.evaluate(() => {
    const noted: number[] = [];
    document.addEventListener("click", () => noted.push(window.clearNodRecorder!.elapsed()), true);
    Object.assign(window, { noted });
  });
  const pressed = async () =>
    (await page.evaluate(() => (window as unknown as { noted: number[] }).noted)).at(-1)! / 1e6;
  for (const name of ["Beside", "Camera alone", "Screen alone", "Inset"]) {
    // Each is seen for a while, however late the press before it came.
    await recordedSeconds(page, Math.ceil((changes.at(-1) ?? 0) + 2));
    await scene(page, name).click();
    changes.push(await pressed());
  }
  await page.getByRole("combobox", { name: "Size" }).click();
  await page.getByRole("option", { name: "Large" }).click();
  const large = await pressed();
  await recordedSeconds(page, Math.ceil(large + 2));
  const link = await stopAndOpen(page);
  // What the scenes hide is left out in a revision of its own; a page that is open moves over, with another player.
  const published = async () => (await page.request.get(`${link}/r2/camera.m3u8`)).status();
  await expect.poll(published, { timeout: 60_000 }).toBe(200);

  const guest = await (await browser.newContext({ reducedMotion: "no-preference" })).newPage();
  await guest.goto(link);
  await guest.getByRole("button", { name: /^Play,/ }).click();
  await expect.poll(() => player.snapshot(guest).then(({ time }) => time)).toBeGreaterThan(500_000);
  // While it plays, what comes fades in; what was there from the beginning is there at once. Looked at by the page
  // itself: a slow machine would have gone on to the first change meanwhile.
  const first = await guest.getByTestId("inset").evaluate(async (element) => {
    const shown = window.clearNodPlayer!;
    const frame = () => new Promise((done) => requestAnimationFrame(done));
    shown.seek(100_000);
    while (shown.snapshot().time < 200_000) await frame();
    const { time } = shown.snapshot();
    await frame();
    return { time, transition: element.style.transition };
  });
  expect(first.time).toBeLessThan((changes[0]! - 0.3) * 1e6);
  expect(first.transition).toBe("none");
  await player.seek(guest, Math.round((changes[0]! - 0.6) * 1e6));
  await expect
    .poll(() => guest.getByTestId("inset").evaluate((element) => element.style.transition), { timeout: 20_000 })
    .toContain("left 250ms");
  await player.pause(guest);

  const [beside, camera, screen] = changes as [number, number, number, number];
  const whole = [0, 0, 100, 100];
  const before = await seenAt(guest, beside - 0.5);
  expect(before.screen).toEqual(whole);
  // At the top, in the middle: as far from the left as from the right.
  expect(Math.abs(before.camera![0] + before.camera![2] / 2 - 50)).toBeLessThanOrEqual(1);
  expect(before.camera![1]).toBeLessThan(5);
  const second = await seenAt(guest, beside + 0.5);
  expect(second.screen![0] + second.screen![2]).toBeLessThan(second.camera![0]);
  expect(second.screen![2]).toBeLessThan(80);
  expect(await seenAt(guest, camera + 0.5)).toEqual({ screen: null, camera: whole });
  expect(await seenAt(guest, screen + 0.5)).toEqual({ screen: whole, camera: null });
  const last = await seenAt(guest, large + 0.7);
  expect(last.screen).toEqual(whole);
  expect(last.camera![2]).toBeGreaterThan(before.camera![2] + 5);
  // To 40 ms about the press: before it, what was there.
  expect((await seenAt(guest, screen - 0.3)).screen).toBeNull();
  expect((await seenAt(guest, screen + 0.15)).camera).toBeNull();

  // A viewer moves only what lies over something.
  await guest.getByRole("button", { name: "Hide camera" }).click();
  expect((await seenAt(guest, large + 0.7)).camera).toBeNull();
  expect((await seenAt(guest, camera + 0.5)).camera).toEqual(whole);
});
