import { spawnSync } from "node:child_process";
import { writeFileSync } from "node:fs";
import { expect, test } from "./test";
import { fileOf } from "./decoded";
import { fold, phase, recordedSeconds, signUp, sound, stopAndOpen } from "./steps";

declare global {
  interface Window {
    blobs: Blob[];
  }
}

/** A voice of 997 Hz with pauses, as a microphone that is turned down too far gives it. */
const QUIET_VOICE = `
  navigator.mediaDevices.getUserMedia = async () => {
    const context = new AudioContext();
    const gain = new GainNode(context, { gain: 0.06 });
    const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
    const voice = new OscillatorNode(context, { frequency: 997 });
    voice.connect(gain).connect(out);
    voice.start();
    for (let i = 0; i < 600; i++) {
      gain.gain.setValueAtTime(0.06, context.currentTime + i);
      gain.gain.setValueAtTime(0.0005, context.currentTime + i + 0.7);
    }
    void context.resume();
    const [track] = out.stream.getTracks();
    const settings = track.getSettings();
    track.getSettings = () => ({ ...settings, deviceId: "desk" });
    return out.stream;
  };
  const address = URL.createObjectURL;
  window.blobs = [];
  URL.createObjectURL = (of) => (of.type === "audio/mp4" && blobs.push(of), address.call(URL, of));`;

/** Outside check: what ffmpeg's ebur128 says of a file's loudness, in LUFS. */
function loudnessOf(file: string): number {
  const args = ["-hide_banner", "-nostats", "-i", file, "-af", "ebur128", "-f", "null", "-"];
  const { stderr, status } = spawnSync("ffmpeg", args);
  expect(status).toBe(0);
  return Number(/I:\s+(-?[\d.]+) LUFS\s+Threshold/.exec(stderr.toString().split("Summary:")[1]!)![1]);
}

test.use({ asShipped: true });

test("ten seconds are rehearsed and never sent; the gain that they ask for is what is recorded", async ({ page }) => {
  const sent: string[] = [];
  page.on("request", (request) => request.method() !== "GET" && sent.push(new URL(request.url()).pathname));
  await page.addInitScript(QUIET_VOICE);
  await signUp(page);
  await page.goto("/record");
  await page.getByRole("button", { name: "Voice", exact: true }).click();
  await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();
  await fold(page, "Ready check").click();
  sent.length = 0;
  await page.getByRole("button", { name: "Rehearse ten seconds" }).click();
  await expect(phase(page)).toContainText("Rehearsing, nothing is kept");
  const rehearsal = page.getByRole("region", { name: "Rehearsal" });
  await expect(rehearsal).toBeVisible({ timeout: 40_000 });
  await expect(phase(page)).toContainText("Ready");
  expect(sent.filter((path) => path !== "/ingest/trial")).toEqual([]);

  // Measured here as ffmpeg measures it.
  const words = rehearsal.getByRole("status");
  await expect(words).toContainText(/Your voice: .*The other: −1[56]\.\d LUFS/);
  const own = Number(/Your voice: −([\d.]+) LUFS/.exec((await words.textContent())!)![1]);
  const bytes = await page.evaluate(async () => [...new Uint8Array(await window.blobs.at(-1)!.arrayBuffer())]);
  const file = test.info().outputPath("rehearsal.mp4");
  writeFileSync(file, Buffer.from(bytes));
  expect(Math.abs(loudnessOf(file) + own)).toBeLessThan(0.5);

  // One key goes from one voice to the other.
  const muted = () => page.locator("audio").evaluateAll((all) => all.map((a) => (a as HTMLAudioElement).muted));
  expect(await muted()).toEqual([false, true]);
  await page.keyboard.press("x");
  expect(await muted()).toEqual([true, false]);
  await sound(page, "rehearsal");
  const turn = page.getByRole("button", { name: /Turn my microphone up by \d+ dB/ });
  const more = Number(/by (\d+) dB/.exec((await turn.textContent())!)![1]);
  expect(Math.abs(more - (own - 16))).toBeLessThan(1);
  await turn.click();
  await expect(page.getByText(`Turned up by ${more} dB.`)).toBeVisible();
  await page.getByRole("button", { name: "Rehearse again" }).click();
  await expect(rehearsal).toBeHidden();
  await expect(words).toContainText(/Your voice: −1[56]\.\d LUFS/, { timeout: 40_000 });
  await page.getByRole("button", { name: "Done" }).click();

  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await recordedSeconds(page, 8);
  const link = await stopAndOpen(page);
  expect(Math.abs(loudnessOf(await fileOf(page, link, "microphone")) + 16)).toBeLessThan(1.2);
  // It is remembered for this microphone.
  await page.goto("/record");
  await expect(page.getByText(`Turned up by ${more} dB.`)).toBeVisible();
  await page.getByRole("button", { name: "As it comes" }).click();
  await expect(page.getByText(/Turned up by/)).toHaveCount(0);
});

test("the voice that rehearsals are compared with is as loud as is aimed at", () => {
  expect(Math.abs(loudnessOf("public/reference.m4a") + 16)).toBeLessThan(0.5);
});
