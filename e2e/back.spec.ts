import type { Page } from "@playwright/test";
import {
  accessible,
  phase,
  playedTo,
  player,
  recorded,
  recordedSeconds,
  signUp,
  sound,
  startRecording,
  stopAndOpen,
} from "./steps";
import { expect, test } from "./test";

/** On a busy machine everything takes its time. */
const GONE_BACK = /^Gone back at 0:(0[89]|1[0-4]), to 0:\d\d/;

const panel = (page: Page) => page.getByRole("region", { name: "Where to go on from" });
const goOnFrom = async (page: Page) => Number(await panel(page).getByRole("slider").getAttribute("value")) / 1e6;

test("going back while recording: what was said since is left out by itself, and stays in the take", async ({
  page,
}) => {
  await signUp(page);
  await startRecording(page);
  await recordedSeconds(page, 8);
  await page.keyboard.press("b");
  await expect(phase(page)).toHaveAttribute("data-phase", "paused");
  // The false microphone beeps twice a second: the place is in the pause before a beep.
  await expect(panel(page).getByRole("img", { name: /^What was seen at 0:\d\d$/ })).toBeVisible();
  const first = await goOnFrom(page);
  // The press itself takes its time on a busy machine; the clock stands where it was pressed, to a second.
  const pressed = await recorded(page);
  expect(first).toBeGreaterThan(pressed - 4);
  expect(first).toBeLessThan(pressed + 0.5);
  await panel(page).getByRole("button", { name: "Hear what comes before" }).click();
  await panel(page).getByRole("button", { name: "Pause before" }).click();
  const second = await goOnFrom(page);
  expect(first - second).toBeGreaterThan(0.3);
  expect(first - second).toBeLessThan(0.8);
  await panel(page).getByRole("button", { name: "Pause after" }).click();
  expect(await goOnFrom(page)).toBe(first);
  await panel(page).getByRole("slider").focus();
  for (let n = 0; n < 10; n++) await page.keyboard.press("ArrowLeft");
  expect(first - (await goOnFrom(page))).toBeCloseTo(1, 1);
  await accessible(page, "looking back");
  await sound(page, "looking back");
  // Nothing happens to who only looks.
  await panel(page).getByRole("button", { name: "Leave it as it is" }).click();
  await expect(panel(page)).toHaveCount(0);
  await expect(phase(page)).toHaveAttribute("data-phase", "paused");
  await page.getByRole("button", { name: "Go back, and go on from there" }).click();
  const since = await goOnFrom(page);
  await panel(page).getByRole("button", { name: "Go on from here" }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording");
  await expect(page.getByText(GONE_BACK)).toBeVisible();

  // Once more, and taken back.
  await recordedSeconds(page, 11);
  await page.keyboard.press("b");
  await panel(page).getByRole("button", { name: "Go on from here" }).click();
  await page.getByRole("button", { name: "Take it back" }).click();
  await expect(page.getByText(GONE_BACK)).toBeVisible();
  await recordedSeconds(page, 15);
  await stopAndOpen(page);

  await expect(page.getByRole("button", { name: /^Left out: 1 stretch, 0:\d\d$/ })).toBeVisible({ timeout: 30_000 });
  await expect.poll(() => page.evaluate(() => window.clearNodPlayer?.url ?? "")).toContain("/r2/");
  const id = await page.locator("[data-recording]").getAttribute("data-recording");
  const told = await page.evaluate(async (path) => (await fetch(path)).text(), `/recordings/${id}/cuts.data`);
  expect(told).toContain("published");
  await page.getByRole("button", { name: /^Play, / }).click();
  await playedTo(page, since + 2);
  const { duration, problem } = await player.snapshot(page);
  expect(problem).toBeNull();
  expect(duration / 1e6).toBeGreaterThan(15 - (pressed + 1.5 - since));
  expect(duration / 1e6).toBeLessThan(17.5 - (8 - since));
  await page.getByRole("button", { name: /^Left out/ }).click();
  await page.getByRole("button", { name: "Show all, as it was recorded" }).click();
  // There is no player for a moment, while the page asks where it is now.
  const length = () => page.evaluate(() => (window.clearNodPlayer?.snapshot().duration ?? 0) / 1e6);
  await expect.poll(length).toBeGreaterThan(14.9);
  // It can be left out again: it is proposed.
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await expect(page.getByText("You went back over this while recording.")).toBeVisible();
});

test("going back without a picture, and from the floating window", async ({ page, context }) => {
  await signUp(page);
  await startRecording(page, "Voice");
  await recordedSeconds(page, 5);
  const [floating] = await Promise.all([
    context.waitForEvent("page"),
    page.getByRole("button", { name: "Controls above all windows" }).click(),
  ]);
  await floating.getByRole("button", { name: "Go back, and go on" }).click();
  await expect(panel(floating).getByRole("slider")).toBeVisible();
  await expect(panel(floating).getByRole("img")).toHaveCount(0);
  await floating.getByRole("button", { name: "Go on from here" }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording");
  await expect(floating.getByText(/^Gone back at/)).toBeVisible();
  await recordedSeconds(page, 8);
  await stopAndOpen(page);
  await expect(page.getByRole("button", { name: /^Left out: 1 stretch/ })).toBeVisible({ timeout: 30_000 });
});

/** A voice for three seconds, then none for one and a half, over and over; and an engine that is nearly as loud. */
const ENGINE = `
  const context = new AudioContext();
  const voice = fetch("/reference.m4a").then((a) => a.arrayBuffer()).then((bytes) => context.decodeAudioData(bytes));
  navigator.mediaDevices.getUserMedia = async () => {
    const rate = context.sampleRate;
    const sound = context.createBuffer(1, rate * 4.5, rate);
    const samples = sound.getChannelData(0);
    samples.set((await voice).getChannelData(0).subarray(0, rate * 3));
    for (let i = 0; i < samples.length; i++) samples[i] += 0.12 * (Math.random() - 0.5) + 0.03 * Math.sin(i / 90);
    const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
    const source = new AudioBufferSourceNode(context, { buffer: sound, loop: true });
    source.connect(out);
    source.start();
    void context.resume();
    return out.stream;
  };`;

// Which they are is looked at without a browser, in `capture/speech/likelihoods.test.ts`.
test("pauses are found beside an engine, by the model that comes with it", async ({ page }) => {
  await page.addInitScript(ENGINE);
  let hear!: () => void;
  const heard = new Promise<void>((done) => (hear = done));
  await page.route("**/speech/silero_vad_v5.onnx", async (route) => {
    await heard;
    await route.continue();
  });
  await signUp(page);
  await startRecording(page, "Voice");
  await recordedSeconds(page, 15);
  const model = page.waitForResponse((response) => response.url().endsWith("/speech/silero_vad_v5.onnx"));
  await page.keyboard.press("b");
  const places = async () => {
    await panel(page).getByRole("slider").focus();
    await page.keyboard.press("End");
    const some: number[] = [];
    for (let n = 0; n < 12; n++) {
      await panel(page).getByRole("button", { name: "Pause before" }).click({ force: true });
      some.push(await goOnFrom(page));
    }
    return some.join(" ");
  };
  // By loudness alone it depends on the noise. Until the model has listened, that is all there is to step to.
  const byLoudness = await places();
  hear();
  expect((await model).status()).toBe(200);
  await expect.poll(places, { timeout: 90_000 }).not.toBe(byLoudness);
});
