import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { fileOf, samplesOf } from "./decoded";
import { fold, recordedSeconds, signUp, startRecording, stopAndOpen } from "./steps";

/** A microphone that hears a voice beside a fan: even noise at about −40 dBFS, in which the pauses are lost. */
const FAN = `
  const context = new AudioContext();
  const voice = fetch("/reference.m4a").then((a) => a.arrayBuffer()).then((bytes) => context.decodeAudioData(bytes));
  navigator.mediaDevices.getUserMedia = async () => {
    const noise = context.createBuffer(1, context.sampleRate * 2, context.sampleRate);
    const samples = noise.getChannelData(0);
    for (let i = 0; i < samples.length; i++) samples[i] = 0.035 * (Math.random() - 0.5);
    const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
    for (const buffer of [noise, await voice]) {
      const source = new AudioBufferSourceNode(context, { buffer, loop: true });
      source.connect(out);
      source.start();
    }
    void context.resume();
    return out.stream;
  };`;

/** A computer that had no time gave no sound at all to the recorder; louder than that are the least blocks. dBFS */
const SOUNDS = -100;
/** Louder than the fan are words alone. dBFS */
const SPEAKS = -30;

/** Outside check: how loud the pauses and the loudest words of the microphone are, in dBFS, by ffmpeg's samples. */
async function heard(page: Page, link: string, revision = 1): Promise<{ pauses: number; words: number }> {
  const samples = samplesOf(await fileOf(page, link, "microphone", revision), "-ss", "1");
  const BLOCK = 4_800;
  const blocks = Array.from({ length: Math.floor(samples.length / BLOCK) }, (_, i) => {
    const block = samples.subarray(i * BLOCK, (i + 1) * BLOCK);
    return 10 * Math.log10(block.reduce((sum, v) => sum + v * v, 0) / BLOCK + 1e-12);
  }).sort((a, b) => a - b);
  const within = (least: number, part: number) => {
    const some = blocks.filter((level) => level > least);
    return some[Math.floor(some.length * part)]!;
  };
  return { pauses: within(SOUNDS, 0.05), words: within(SPEAKS, 0.9) };
}

async function take(page: Page): Promise<string> {
  await startRecording(page, "Voice");
  await recordedSeconds(page, 9);
  return stopAndOpen(page);
}

test("the noise around a voice is taken out where wished, told what it costs, heard before and after", async ({
  page,
}) => {
  await page.addInitScript(FAN);
  await signUp(page);
  const plain = await heard(page, await take(page));
  expect(Math.abs(plain.pauses - -40)).toBeLessThan(4);

  await page.goto("/record");
  await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();
  await fold(page, "Ready check").click();
  await page.getByRole("button", { name: "Rehearse ten seconds" }).click();
  const pane = page.getByRole("region", { name: "Rehearsal" });
  await expect(pane).toBeVisible({ timeout: 40_000 });
  await fold(page, "Voice").click();
  await page.getByLabel("Take out the noise around my voice").check();
  await pane.getByRole("button", { name: "Rehearse again" }).click();
  await expect(pane).toBeHidden();
  await expect(pane).toBeVisible({ timeout: 40_000 });
  await fold(page, "Voice").click();
  await expect(page.getByText(/It takes \d+ % of one processor of this computer/)).toBeVisible();
  await page.keyboard.press("x");
  await expect(pane.getByRole("button", { name: "The time before" })).toHaveAttribute("aria-pressed", "true");
  const without = await heard(page, await take(page));
  expect(without.pauses).toBeLessThan(plain.pauses - 12);
  expect(Math.abs(without.words - plain.words)).toBeLessThan(2);
});

test("the noise is taken out afterwards, heard before it is published, and put back", async ({ page }) => {
  await page.addInitScript(FAN);
  await signUp(page);
  const link = await take(page);
  const plain = await heard(page, link);
  const played = () => page.evaluate(() => window.clearNodPlayer?.url ?? "");
  const publish = async () => {
    await page.getByRole("button", { name: "Publish", exact: true }).click();
    await expect(page.getByText("This is what everybody sees")).toBeVisible({ timeout: 30_000 });
  };
  await page.getByRole("link", { name: "Edit", exact: true }).click();
  await fold(page, "Sound").click();
  const wish = page.getByLabel("Take out the noise around it");
  await wish.check();
  // Published at once, it waits for the voice.
  await page.getByRole("button", { name: "Publish", exact: true }).click();
  await expect(page.getByText("You hear the voice without the noise around it.")).toBeVisible({ timeout: 30_000 });
  await expect.poll(played).toContain("/microphone-suppressed.m3u8");
  await expect(page.getByText("This is what everybody sees")).toBeVisible({ timeout: 30_000 });
  const without = await heard(page, link, 2);
  expect(without.pauses).toBeLessThan(plain.pauses - 12);
  expect(Math.abs(without.words - plain.words)).toBeLessThan(2);

  await wish.uncheck();
  await expect.poll(played).toContain("/microphone.m3u8");
  await publish();
  expect(Math.abs((await heard(page, link, 3)).pauses - plain.pauses)).toBeLessThan(1);
});
