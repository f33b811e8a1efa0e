import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { signUp } from "./steps";

declare global {
  interface Window {
    desk: { setLevel(amplitude: number): void; setGrey(grey: number): void };
  }
}

/** A microphone of a tone whose level is known, and a camera of one grey: both can be changed. */
const DESK = `
  const context = new AudioContext();
  const gain = new GainNode(context, { gain: 0 });
  const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
  const oscillator = new OscillatorNode(context, { frequency: 997 });
  oscillator.connect(gain).connect(out);
  oscillator.start();
  const canvas = Object.assign(document.createElement("canvas"), { width: 640, height: 480 });
  let grey = 128;
  setInterval(() => {
    const paint = canvas.getContext("2d");
    paint.fillStyle = "rgb(" + grey + "," + grey + "," + grey + ")";
    paint.fillRect(0, 0, 640, 480);
  }, 33);
  window.desk = { setLevel: (amplitude) => (gain.gain.value = amplitude), setGrey: (value) => (grey = value) };
  navigator.mediaDevices.getUserMedia = async ({ audio, video }) => {
    void context.resume();
    return video ? canvas.captureStream(30) : out.stream.clone();
  };`;

const line = (page: Page, name: string) =>
  page
    .getByRole("list", { name: "Ready check" })
    .getByRole("listitem")
    .filter({ has: page.getByText(name, { exact: true }) });

test.use({ asShipped: true });

test("the ready check measures voice and light, says how to mend them, and is told in one line", async ({ page }) => {
  await page.addInitScript(DESK);
  await signUp(page);
  await page.goto("/record");
  await page.getByRole("button", { name: "Screen and camera", exact: true }).click();
  const fold = page.locator("summary").filter({ hasText: "Ready check" });
  await expect(fold).toBeVisible();
  await fold.click();
  await expect(line(page, "Voice")).toContainText("Say a sentence or two");
  await expect(line(page, "Sending")).toContainText(/[\d.]+ Mbit a second, 3\.3 are recorded/);
  await expect(line(page, "Space")).toContainText(/about \d+ (hours|minutes)/);

  // A sine of 997 Hz at full scale has −3.01 LUFS in one channel (ITU-R BS.1770): this one has −16.
  await page.evaluate(() => window.desk.setLevel(10 ** (-12.99 / 20)));
  await expect(line(page, "Voice")).toContainText("−16 LUFS", { timeout: 20_000 });
  await expect(line(page, "Voice")).toContainText("good");
  await expect(line(page, "Light")).toContainText("50 % bright");
  // Louder than anybody wants it, and distorted.
  await page.evaluate(() => window.desk.setLevel(0.99));
  await expect(line(page, "Voice")).toContainText(/Go back a little/, { timeout: 20_000 });
  await expect(line(page, "Peaks")).toContainText("It is distorted");
  // So quiet that ten seconds later nothing louder is remembered.
  await page.evaluate(() => window.desk.setLevel(10 ** (-28 / 20)));
  await expect(line(page, "Voice")).toContainText(/Come closer/, { timeout: 30_000 });
  await page.evaluate(() => window.desk.setGrey(20));
  await expect(line(page, "Light")).toContainText("It is dark", { timeout: 20_000 });
  await expect(fold).toContainText("light: to mend");
});
