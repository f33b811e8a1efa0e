import { expect, test } from "./test";
import { fileOf, picturesOf, samplesOf } from "./decoded";
import { browserSharing, recordedSeconds, signUp, startRecording, stopAndOpen } from "./steps";

/** A page that turns white and beeps at the same moment, once a second, each for a tenth. */
const FLASHES = `<title>Flash and beep</title><body style="background:#000"><script>
  const context = new AudioContext();
  let next = Math.ceil(context.currentTime) + 1;
  const sound = (at) => {
    const oscillator = new OscillatorNode(context, { frequency: 1000 });
    oscillator.connect(new GainNode(context, { gain: 0.5 })).connect(context.destination);
    oscillator.start(at);
    oscillator.stop(at + 0.1);
  };
  sound(next);
  const look = () => {
    const since = context.currentTime - next;
    document.body.style.background = since >= 0 && since < 0.1 ? "#fff" : "#000";
    if (since >= 0.5) sound((next += 1));
    requestAnimationFrame(look);
  };
  look();
</script>`;

/** The moments at which something goes above a level that was below it, in seconds. */
const rises = (values: { at: number; value: number }[], level: number) =>
  values.filter(({ value }, i) => i > 0 && value >= level && values[i - 1]!.value < level).map(({ at }) => at);

/** Outside check: when ffmpeg's decoder shows a white picture after a black one. */
const flashes = (file: string) =>
  rises(
    picturesOf(file, 1).map(({ at, columns: [value] }) => ({ at, value: value! })),
    128,
  );

/** Outside check: when ffmpeg's decoder gives a loud stretch after a quiet one, by 2 ms. */
function beeps(file: string): number[] {
  const samples = samplesOf(file);
  const STEP = 96;
  const loud = Array.from({ length: Math.floor(samples.length / STEP) }, (_, i) => ({
    at: (i * STEP) / 48_000,
    value: Math.max(...samples.subarray(i * STEP, (i + 1) * STEP).map(Math.abs)),
  }));
  // A sine passes 0 on its way: quiet is what was quiet for 20 ms.
  const held = loud.map(({ at }, i) => ({
    at,
    value: Math.max(...loud.slice(Math.max(0, i - 10), i + 1).map((l) => l.value)),
  }));
  return rises(held, 0.1);
}

test.use({ asShipped: true });

test("what flashes and beeps at one moment is recorded at one moment", async ({ baseURL, launchOptions }) => {
  const aloud = { ...launchOptions, ignoreDefaultArgs: ["--mute-audio"] };
  const browser = await browserSharing("Flash and beep", aloud);
  try {
    const context = await browser.newContext({ baseURL, permissions: ["microphone", "clipboard-write"] });
    await (await context.newPage()).setContent(FLASHES);
    const page = await context.newPage();
    await signUp(page);
    await page.goto("/record");
    await page.getByRole("button", { name: "Screen", exact: true }).click();
    await page.getByLabel("Record my voice").uncheck();
    await startRecording(page, "Screen");
    await expect(page.getByTestId("shared")).toContainText("tab");
    await recordedSeconds(page, 10);
    const link = await stopAndOpen(page);
    const heard = beeps(await fileOf(page, link, "sound"));
    const offsets = flashes(await fileOf(page, link, "screen")).flatMap((seen) => {
      const nearest = heard.reduce((a, b) => (Math.abs(b - seen) < Math.abs(a - seen) ? b : a), Infinity);
      return Math.abs(nearest - seen) < 0.5 ? [(nearest - seen) * 1000] : [];
    });
    expect(offsets.length).toBeGreaterThanOrEqual(6);
    // A busy machine paints the page late, and never early: the quarter that was painted soonest tells of the recorder.
    const soonest = [...offsets].sort((a, b) => b - a)[offsets.length >> 2]!;
    // Where people begin to notice: sound 45 ms early or 125 ms late (ITU-R BT.1359-1, annex 1, from memory).
    expect(soonest, `ms that sound is late: ${offsets.map(Math.round).join(" ")}`).toBeGreaterThan(-45);
    expect(soonest, `ms that sound is late: ${offsets.map(Math.round).join(" ")}`).toBeLessThan(125);
  } finally {
    await browser.close();
  }
});
