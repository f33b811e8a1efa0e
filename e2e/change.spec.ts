import { expect, test } from "./test";
import { fileOf, picturesOf, samplesOf } from "./decoded";
import { chooseSurface, fold, phase, recordedSeconds, signUp, startRecording, stopAndOpen } from "./steps";

declare global {
  interface Window {
    cameras: MediaStreamTrack[];
  }
}

/** Devices and surfaces that can be told apart afterwards: a tone for each microphone, a grey for each surface. */
const APART = `
  const canvasTrack = (width, height, grey) => {
    const canvas = Object.assign(document.createElement("canvas"), { width, height });
    const context = canvas.getContext("2d");
    setInterval(() => {
      context.fillStyle = "rgb(" + grey + "," + grey + "," + grey + ")";
      context.fillRect(0, 0, width, height);
    }, 50);
    return canvas.captureStream(20).getVideoTracks()[0];
  };
  const named = (track, deviceId) => {
    const settings = track.getSettings();
    track.getSettings = () => ({ ...settings, deviceId });
    return track;
  };
  const context = new AudioContext();
  const tone = (frequency) => {
    const oscillator = new OscillatorNode(context, { frequency });
    const out = new MediaStreamAudioDestinationNode(context, { channelCount: 1 });
    oscillator.connect(new GainNode(context, { gain: 0.3 })).connect(out);
    oscillator.start();
    void context.resume();
    return out.stream.getAudioTracks()[0];
  };
  window.cameras = [];
  navigator.mediaDevices.getUserMedia = async ({ audio, video }) => {
    if (video) cameras.push(canvasTrack(640, 480, 120 + 80 * cameras.length));
    const wanted = audio?.deviceId?.exact ?? "default";
    return new MediaStream([video ? named(cameras.at(-1), "camera") : named(tone(wanted === "default" ? 440 : 1000), wanted)]);
  };
  const surfaces = [[1280, 720, 220], [900, 900, 90]];
  navigator.mediaDevices.getDisplayMedia = async () => new MediaStream([canvasTrack(...surfaces.shift())]);`;

/**
 * Outside check: the tone of ffmpeg's samples in the two seconds from `from` on, by the median of its periods. A busy
 * computer may leave some of it out, and plays no other one.
 */
function toneAt(file: string, from: number): number {
  const samples = samplesOf(file, "-ss", String(from), "-t", "2");
  const rises = [...samples.keys()].filter((i) => i > 0 && samples[i]! >= 0 && samples[i - 1]! < 0);
  expect(rises.length).toBeGreaterThan(100);
  const periods = rises.slice(1).map((at, i) => at - rises[i]!);
  return 48_000 / periods.sort((a, b) => a - b)[periods.length >> 1]!;
}

test.use({ asShipped: true });

test("what is shown and with what is changed in the middle of a take, and the tracks go on", async ({ page }) => {
  await page.addInitScript(APART);
  await signUp(page);
  await startRecording(page);
  await recordedSeconds(page, 3);

  await page.getByText("Recorded with").click();
  // However long a device's name is: these have names without a space.
  expect(await page.evaluate(() => document.documentElement.scrollWidth - window.innerWidth)).toBeLessThanOrEqual(0);
  await page.getByRole("combobox", { name: "Microphone" }).click();
  await page.getByRole("option").nth(1).click();
  await page.getByRole("button", { name: "Show something else" }).click();
  await expect
    .poll(() => page.getByLabel("Screen preview").evaluate((v) => (v as HTMLVideoElement).videoWidth))
    .toBe(900);
  const gone = await page.evaluate(() => {
    window.cameras[0]!.stop();
    window.cameras[0]!.dispatchEvent(new Event("ended"));
    return window.clearNodRecorder!.elapsed() / 1e6;
  });
  const lost = page.getByRole("alert").filter({ hasText: "The camera was lost" });
  await expect(lost).toBeVisible();
  await expect(page.getByTestId("inset")).toBeHidden();
  await page.getByRole("button", { name: "Try again" }).click();
  await expect(lost).toBeHidden();
  await expect(page.getByTestId("inset")).toBeVisible();
  const changed = await page.evaluate(() => window.clearNodRecorder!.elapsed() / 1e6);
  await recordedSeconds(page, Math.ceil(changed) + 3);
  const link = await stopAndOpen(page);

  const screen = picturesOf(await fileOf(page, link, "screen"), 4);
  const camera = picturesOf(await fileOf(page, link, "camera"), 1);
  const greys = (of: typeof screen, from: number, to: number) =>
    of.filter(({ at }) => at >= from && at < to).map(({ columns }) => [...columns]);
  for (const [first, second] of greys(screen, 1, 2.5)) {
    expect(first).toBeGreaterThan(200);
    expect(second).toBeGreaterThan(200);
  }
  // A square in a frame of 16 to 9: whole, about the middle, with black beside it.
  const after = greys(screen, changed + 1, Infinity);
  expect(after.length).toBeGreaterThan(20);
  for (const [first, second, third, fourth] of after) {
    for (const outer of [first, fourth]) expect(outer).toBeLessThan(40);
    for (const inner of [second, third]) expect(Math.abs(inner! - 90)).toBeLessThan(12);
  }
  expect(greys(camera, 1, 2.5)[0]![0]).toBeLessThan(140);
  expect(camera.at(-1)!.columns[0]).toBeGreaterThan(165);
  // No track has a hole: a second is what a busy computer may leave out, and the camera's parts that are not shown.
  const holes = (pictures: typeof screen) =>
    pictures.slice(1).flatMap(({ at }, i) => (at - pictures[i]!.at < 1 ? [] : [{ from: pictures[i]!.at, to: at }]));
  expect(holes(screen)).toEqual([]);
  expect(holes(camera).filter(({ from, to }) => to < gone || from > changed)).toEqual([]);

  const microphone = await fileOf(page, link, "microphone");
  expect(Math.abs(toneAt(microphone, 0.5) - 440)).toBeLessThan(10);
  expect(Math.abs(toneAt(microphone, changed + 0.5) - 1000)).toBeLessThan(20);
});

test("choosing is not recording: shown, changed, ended, and started in one press where that is wished", async ({
  page,
}) => {
  await signUp(page);
  await page.goto("/record");
  await page.getByRole("button", { name: "Screen", exact: true }).click();
  const guide = page.getByLabel("What you can show");
  await expect(guide).toContainText("Leaves out the browser's menus");
  await chooseSurface(page);
  await expect(phase(page)).toContainText("Nothing is recorded yet");
  await expect(guide).toBeHidden();
  await page.getByRole("button", { name: "Show nothing" }).click();
  await expect(guide).toBeVisible();

  await chooseSurface(page);
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await page.getByRole("button", { name: "Cancel" }).click();
  // Whoever thinks better of it has still chosen.
  await expect(page.getByRole("button", { name: "Record", exact: true })).toBeVisible();
  await expect(page.getByLabel("Screen preview")).toBeVisible();
  // A voice shows nothing: what was chosen is let go.
  await page.getByRole("button", { name: "Voice", exact: true }).click();
  await expect(page.getByLabel("Screen preview")).toBeHidden();
  await page.getByRole("button", { name: "Screen", exact: true }).click();
  await expect(guide).toBeVisible();

  await page.getByText("Start and end").click();
  await page.getByLabel("Record at once when I have chosen what to show").check();
  await page.getByRole("combobox", { name: "Count in" }).click();
  await page.getByRole("option", { name: "5 seconds" }).click();
  await expect(fold(page, "Start and end")).toContainText("at once when chosen, after 5 seconds, ends when I stop it");
  await page.reload();
  await page.getByRole("button", { name: "Choose and record" }).click();
  await expect(phase(page)).toContainText(/Counting in [45]/);
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await page.getByRole("button", { name: "Discard" }).click();
  await page.getByRole("button", { name: "Discard it" }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "ready");
  await page.goto("/library");
  await expect(page.getByRole("heading", { name: "Your library is empty" })).toBeVisible();
});
