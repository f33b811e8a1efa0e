import { expect, test } from "./test";
import { playedTo, player, sharedTake, signUp } from "./steps";

test("where there is no Media Source the browser's own HLS plays the layers, in step", async ({ page, browser }) => {
  await signUp(page);
  const { link } = await sharedTake(page, 8);
  const phone = await browser.newContext({ viewport: { width: 390, height: 844 }, hasTouch: true });
  const guest = await phone.newPage();
  // As an older phone: without Media Source, of whatever kind, before any script of the page.
  await guest.addInitScript(() => {
    for (const name of ["MediaSource", "ManagedMediaSource", "WebKitMediaSource"]) Reflect.deleteProperty(window, name);
  });
  await guest.goto(link);
  expect(await guest.evaluate(() => "MediaSource" in window)).toBe(false);
  await guest.getByRole("button", { name: /^Play/ }).first().click();
  await playedTo(guest, 3);
  const layers = await guest.evaluate(() =>
    [...document.querySelectorAll("video")].map((v) => ({
      source: new URL(v.currentSrc).pathname.split("/").at(-1),
      time: v.currentTime,
      width: v.videoWidth,
    })),
  );
  expect(layers.map((l) => l.source)).toEqual(["main.m3u8", "camera.m3u8"]);
  for (const { width } of layers) expect(width).toBeGreaterThan(0);
  // Layers of a player that is not ours are nudged all the same.
  expect(Math.abs(layers[0]!.time - layers[1]!.time)).toBeLessThan(0.25);
  await player.seek(guest, 6e6);
  await expect.poll(() => player.snapshot(guest).then(({ ended }) => ended), { timeout: 30_000 }).toBe(true);
  expect((await player.snapshot(guest)).problem).toBeNull();
  await phone.close();
});
