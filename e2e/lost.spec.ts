import { expect, test } from "./test";
import { player, recordedSeconds, signUp, startRecording, stopAndOpen } from "./steps";

declare global {
  interface Window {
    openedTracks: MediaStreamTrack[];
  }
}

// Layers end within a few pictures of each other: of so many a second as are usual.
test.use({ asShipped: true });

test("a camera that is unplugged in the middle: the take goes on without it, and says so", async ({ page }) => {
  // A fake camera cannot be unplugged, but its track can end the way an unplugged one does.
  await page.addInitScript(() => {
    window.openedTracks = [];
    const ask = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
    navigator.mediaDevices.getUserMedia = async (wanted) => {
      const stream = await ask(wanted);
      window.openedTracks.push(...stream.getTracks());
      return stream;
    };
  });
  await signUp(page);
  await startRecording(page);
  await recordedSeconds(page, 3);
  await page.evaluate(() => {
    for (const track of window.openedTracks.filter((t) => t.kind === "video")) {
      track.stop();
      track.dispatchEvent(new Event("ended"));
    }
  });
  await expect(
    page.getByRole("alert").filter({ hasText: "The camera was lost. Recording goes on without it." }),
  ).toBeVisible();
  await recordedSeconds(page, 8);
  await stopAndOpen(page);
  await page.getByRole("button", { name: /^Play, 0:(0[89]|[1-5])/ }).click();
  // While it is watched it is published once more without what is not seen: the page moves over, and plays on.
  await expect.poll(() => player.snapshot(page).then(({ ended }) => ended), { timeout: 40_000 }).toBe(true);
  const [main, camera] = await page.evaluate(() =>
    ["main", "camera"].map((role) => document.querySelector<HTMLVideoElement>(`[data-layer=${role}]`)!.duration),
  );
  // The picture stands still where the camera was lost, so that its track has no hole. It is not shown, and not sent
  // either, once all of it is here and was published without what is hidden.
  expect(main).toBeGreaterThanOrEqual(8);
  expect(camera!).toBeLessThan(main! + 0.3);
  await expect(page.getByTestId("inset")).toBeHidden();
});

test("a remembered microphone that is gone is told before it matters, and one that is there is taken again", async ({
  page,
}) => {
  await signUp(page);
  await page.goto("/record");
  await page.getByRole("combobox", { name: "Microphone" }).click();
  const other = page.getByRole("option").nth(1);
  const name = (await other.textContent())!;
  await other.click();
  await expect(page.getByRole("combobox", { name: "Microphone" })).toHaveText(name);
  await expect.poll(() => page.evaluate(() => localStorage.getItem("clear-nod-microphone-name"))).toBe(name);
  // Another computer's devices have other ids: to this page it is one that was unplugged.
  const id = await page.evaluate(() => localStorage.getItem("clear-nod-microphone")!);
  await page.evaluate(() => localStorage.setItem("clear-nod-microphone", "gone"));
  await page.reload();
  const told = page.getByRole("alert").filter({ hasText: `${name} is not here.` });
  await expect(told).toContainText("is used instead.");
  await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();
  await told.getByRole("button", { name: "Try again" }).click();
  await expect(told).toBeVisible();
  await page.evaluate((back) => localStorage.setItem("clear-nod-microphone", back), id);
  await page.reload();
  await expect(page.getByRole("combobox", { name: "Microphone" })).toHaveText(name);
  await expect(told).toHaveCount(0);
});

test("where H.264 cannot be encoded, VP9 is recorded, said as such, and plays", async ({ page }) => {
  await page.route(/engine\.worker-.*\.js$/, async (route) => {
    const answer = await route.fetch();
    const without = `{ const can = VideoEncoder.isConfigSupported; VideoEncoder.isConfigSupported = async (c) => c.codec.startsWith("avc") ? { supported: false, config: c } : can.call(VideoEncoder, c); }`;
    await route.fulfill({ response: answer, body: `${without}\n${await answer.text()}` });
  });
  await signUp(page);
  await startRecording(page, "Camera");
  await recordedSeconds(page, 5);
  const link = await stopAndOpen(page);
  const main = await (await page.request.get(`${link}/r1/main.m3u8`)).text();
  expect(main).toMatch(/CODECS="vp09\./);
  await page.getByRole("button", { name: /^Play, 0:0/ }).click();
  await expect
    .poll(() => player.snapshot(page).then(({ time }) => time), { timeout: 20_000 })
    .toBeGreaterThan(1_000_000);
  expect(await page.evaluate(() => document.querySelector("video")!.videoWidth)).toBe(640);
});
