import { join } from "node:path";
import { chromium } from "@playwright/test";
import { expect, test } from "./test";
import { fileOf, run, samplesOf } from "./decoded";
import { fold, recordedSeconds, signUp, startRecording, stopAndOpen } from "./steps";

declare global {
  interface Window {
    /** how high each was, and what the desk was at */
    tones: [number, string | undefined][];
  }
}

/** Ten seconds of a room in which nobody speaks, then eight of a loud tone: a file for the microphone. */
function soundFile(): string {
  const file = join(test.info().outputPath(), "microphone.wav");
  const room = "anoisesrc=d=10:a=0.0006:r=48000";
  const loud = "sine=f=300:d=8:r=48000,volume=40";
  run(
    "ffmpeg",
    "-y",
    "-f",
    "lavfi",
    "-i",
    room,
    "-f",
    "lavfi",
    "-i",
    loud,
    "-filter_complex",
    "concat=n=2:v=0:a=1",
    file,
  );
  return file;
}

/** How loud each second of a file is, dBFS (root mean square), as ffmpeg's decoder gives it. */
function secondsOf(file: string): number[] {
  const samples = samplesOf(file);
  return Array.from({ length: Math.floor(samples.length / 48_000) }, (_, second) => {
    const of = samples.subarray(second * 48_000, (second + 1) * 48_000);
    return 20 * Math.log10(Math.sqrt(of.reduce((sum, s) => sum + s * s, 0) / of.length) + 1e-7);
  });
}

test("says at once when nobody is heard, when it is too loud, and when the microphone is muted", async ({
  baseURL,
  launchOptions,
}) => {
  const browser = await chromium.launch({
    ...launchOptions,
    args: [...launchOptions.args!, `--use-file-for-fake-audio-capture=${soundFile()}`],
  });
  try {
    const context = await browser.newContext({ baseURL, permissions: ["camera", "microphone", "clipboard-write"] });
    const page = await context.newPage();
    await page.addInitScript(`
      window.tones = [];
      const start = OscillatorNode.prototype.start;
      OscillatorNode.prototype.start = function (...at) {
        tones.push([this.frequency.value, document.querySelector("[data-testid=state]")?.dataset.phase]);
        return start.apply(this, at);
      };`);
    await signUp(page);
    // The browser's own control of the level never lets it be cut off: it is turned up too far here.
    await page.goto("/record");
    await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();
    await page.evaluate(async () => {
      const all = await navigator.mediaDevices.enumerateDevices();
      const gains = all.filter((d) => d.kind === "audioinput").map((d) => [d.deviceId, 18]);
      localStorage.setItem("clear-nod-gain", JSON.stringify(Object.fromEntries(gains)));
    });
    await fold(page, "For me alone").click();
    await page.getByLabel("Sound when something is wrong").check();
    await page.getByLabel("I see myself as in a mirror").uncheck();
    const turned = () => page.getByLabel("Camera preview").evaluate((video) => getComputedStyle(video).transform);
    expect(await turned()).toBe("none");
    await startRecording(page);
    const alarmedIn = () =>
      page.evaluate(() => [...new Set(window.tones.filter(([hertz]) => hertz === 880).map(([, phase]) => phase))]);
    const alarm = page.getByRole("alert");
    // What is drawn on and what is pressed.
    const places = () =>
      Promise.all(
        [page.getByLabel("Screen preview"), page.getByRole("button", { name: "Stop", exact: true })].map((at) =>
          at.boundingBox(),
        ),
      );
    const calm = await places();
    await expect(alarm.filter({ hasText: "Nothing was heard for 6 seconds" })).toBeVisible({ timeout: 30_000 });
    // On a busy machine it may have been quiet for so long before: it is told, and sounds only once it records.
    await expect.poll(alarmedIn).toEqual(["recording"]);
    expect(await places()).toEqual(calm);
    await expect(alarm.filter({ hasText: "It is too loud" })).toBeVisible({ timeout: 30_000 });
    expect(await places()).toEqual(calm);
    const loudFrom = await page.evaluate(() => window.clearNodRecorder!.elapsed() / 1e6);

    await page.getByRole("button", { name: "Mute my microphone" }).click();
    const mutedAt = await page.evaluate(() => window.clearNodRecorder!.elapsed() / 1e6);
    await expect(page.getByText("Your microphone is muted")).toBeVisible();
    // Muted is no alarm.
    await expect(alarm.filter({ hasText: "It is too loud" })).toHaveCount(0);
    await recordedSeconds(page, Math.ceil(mutedAt) + 3);
    await page.getByRole("button", { name: "Unmute my microphone" }).click();
    await expect(page.getByText("Your microphone is muted")).toHaveCount(0);
    await recordedSeconds(page, Math.ceil(mutedAt) + 5);
    const link = await stopAndOpen(page);

    const loud = secondsOf(await fileOf(page, link, "microphone"));
    expect(Math.max(...loud.slice(Math.floor(loudFrom) - 1, Math.ceil(mutedAt)))).toBeGreaterThan(-12);
    // Nothing at all is recorded of what is muted.
    expect(loud[Math.ceil(mutedAt) + 1]!).toBeLessThan(-90);
  } finally {
    await browser.close();
  }
});
