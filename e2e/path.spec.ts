import { expect, test } from "./test";
import { inStep, phase, player, recordedSeconds, signUp, signUpByForm, startRecording, stopAndOpen } from "./steps";

test.use({ asShipped: true });

test("from pressing Record to a stranger who watches", async ({ page, browser }) => {
  // A computer with room for the encoder that every player's sound needs; here it may have two cores only.
  await page.addInitScript(() => Object.defineProperty(navigator, "hardwareConcurrency", { value: 8 }));
  const policies: (string | undefined)[] = [];
  page.on("response", (r) => {
    if (r.url().includes("/engine.worker-")) policies.push(r.headers()["content-security-policy"]);
  });
  await signUpByForm(page);
  await startRecording(page);
  await expect(page).toHaveTitle(/Recording/);
  await expect(page.getByTestId("shared")).toContainText(/Whole screen|window|tab/);
  await recordedSeconds(page, 8);
  const link = await stopAndOpen(page);
  await expect.poll(() => page.evaluate(() => navigator.clipboard.readText())).toBe(link);
  await expect(page.getByRole("heading", { level: 1 })).toHaveText(/^Screen and camera, \w+day \d+ \w+, \d+:\d\d$/);

  const stranger = await browser.newContext();
  const guest = await stranger.newPage();
  expect((await guest.goto(link))!.status()).toBe(404);
  await expect(guest.getByRole("heading", { name: "There is nothing here that you can open" })).toBeVisible();

  const shared = page.waitForResponse((r) => r.url().includes("/recordings/") && r.request().method() === "POST");
  await page.getByRole("button", { name: "Share with anyone who has the link" }).click();
  await shared;
  await expect(page.getByRole("button", { name: "Anyone with the link", exact: true })).toBeVisible();
  expect((await guest.goto(link))!.status()).toBe(200);
  await guest.getByRole("button", { name: /^Play, 0:(0[89]|[1-5])/ }).click();
  await expect.poll(() => player.snapshot(guest).then(({ time }) => time)).toBeGreaterThan(1_500_000);

  // AAC, by an encoder that only the recorder's worker may run.
  const main = await guest.request.get(`${link}/r1/main.m3u8`);
  expect(await main.text()).toMatch(/CODECS="avc1\.[\da-f]{6},mp4a\.40\.2"/);
  expect(policies).toEqual([expect.stringContaining("script-src 'self' 'wasm-unsafe-eval'")]);
  expect((await guest.request.get(link)).headers()["content-security-policy"]).not.toContain("wasm");

  const layers = await guest.evaluate(() =>
    ["main", "voice", "camera"].map((role) => {
      const media = document.querySelector<HTMLVideoElement>(`[data-layer=${role}]`)!;
      const { webkitAudioDecodedByteCount: sound } = media as unknown as { webkitAudioDecodedByteCount: number };
      return { time: media.currentTime, width: media.videoWidth, sound };
    }),
  );
  for (const layer of layers) expect(layer.time).toBeGreaterThan(1);
  expect(layers[1]!.sound).toBeGreaterThan(0);
  expect(layers[2]!.width).toBe(640);
  await inStep(guest, 1);
  await stranger.close();
});

test("pausing leaves time out, and each state is told in its own way", async ({ page }) => {
  await signUp(page);
  await page.goto("/record");
  await expect(phase(page)).toHaveAttribute("data-phase", "ready");
  await expect(page).toHaveTitle(/Ready to record/);
  await page.getByRole("button", { name: "Camera", exact: true }).click();
  await expect(page.getByLabel("Camera preview")).toBeVisible();
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "counting");
  await expect(page).toHaveTitle(/Counting in/);
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "ready");

  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await recordedSeconds(page, 2);
  await page.getByRole("button", { name: "Pause" }).click();
  await expect(page).toHaveTitle(/Paused/);
  const paused = await page.getByRole("timer").textContent();
  await expect(page.locator("link[rel=icon]")).toHaveAttribute("href", "/icons/paused.svg");
  await page.evaluate(() => new Promise((done) => setTimeout(done, 5_000)));
  expect(await page.getByRole("timer").textContent()).toBe(paused);
  await page.getByRole("button", { name: "Resume" }).click();
  await recordedSeconds(page, 4);
  const before = await page.evaluate(() => window.clearNodRecorder!.elapsed() / 1e6);
  await stopAndOpen(page);
  await page.getByRole("button", { name: /^Play, 0:\d\d$/ }).click();
  const length = () => player.snapshot(page).then(({ duration }) => duration / 1e6);
  // A press is kept until the player has begun.
  await expect.poll(length).toBeGreaterThan(3.5);
  // Stop itself takes its time on a busy machine; what was paused lasted longer.
  expect(await length()).toBeLessThan(before + 4);
  await expect.poll(() => player.snapshot(page).then(({ ended }) => ended), { timeout: 20_000 }).toBe(true);

  // The cancelled one has left no trace.
  await page.goto("/library");
  await expect(page.getByRole("listitem")).toHaveCount(1);
});

test("discarding asks once, and the take waits among the deleted", async ({ page }) => {
  await signUp(page);
  await startRecording(page, "Voice");
  await recordedSeconds(page, 3);
  await page.getByRole("button", { name: "Discard" }).click();
  await page.getByRole("button", { name: "Keep" }).click();
  await page.getByRole("button", { name: "Discard" }).click();
  await page.getByRole("button", { name: "Discard it" }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "ready");
  await page.goto("/library");
  await expect(page.getByRole("heading", { name: "Your library is empty" })).toBeVisible();
  await page.getByRole("link", { name: "Deleted recordings" }).click();
  await page.getByRole("button", { name: "Restore" }).click();
  await expect(page.getByText("Nothing was deleted.")).toBeVisible();
  await page.goto("/library");
  await expect(page.getByRole("listitem")).toHaveCount(1);
});
