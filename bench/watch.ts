import { readFileSync } from "node:fs";
import { sampleDrifts } from "../e2e/steps";
import { withBrowser } from "./browser";
import { slope } from "./memory";
import { QuietPage, type GivenFile } from "./quiet";
import { feed, finish, figureOf, median, p95, type Figure, type Rig } from "./rig";

async function recording(rig: Rig, large = false, seconds = 40): Promise<string> {
  const { takeId, token } = await rig.start("screen-camera");
  const [screen, camera] = large ? (["screen-1080", "camera-480"] as const) : (["screen", "camera"] as const);
  const expected = await feed(rig, takeId, { screen, camera, microphone: "microphone" }, seconds);
  await finish(rig, takeId, expected);
  return `${rig.base}/w/${token}`;
}

/** Notes when the first element has its first picture decoded; heard before the page's own listeners. */
const NOTE_FIRST = `document.addEventListener("loadeddata", ({ target }) => {
  if (target === document.querySelector("video")) window.firstPictureAt ??= performance.now();
}, true);`;

/** @returns ms from the press on a link to its first picture, in a browser that knows nothing yet */
async function toFirstPicture(rig: Rig, path: string, files: Record<string, GivenFile> = {}): Promise<number> {
  const page = await QuietPage.open(rig, path, { script: NOTE_FIRST, files });
  try {
    await page.until("window.firstPictureAt");
    return await page.evaluate<number>("firstPictureAt");
  } finally {
    await page.close();
  }
}

/** The least that can play both layers: two elements, and hls.js from its package. */
const bare = (link: string): Record<string, GivenFile> => ({
  "/bare.js": { type: "text/javascript", body: readFileSync("node_modules/hls.js/dist/hls.min.js", "utf8") },
  "/bare.html": {
    type: "text/html",
    body: `<!doctype html><video muted></video><video muted></video><script src="bare.js"></script><script>
      ["main", "camera"].forEach((name, i) => {
        const hls = new Hls({ enableWorker: false });
        hls.loadSource("${link}/r1/" + name + ".m3u8");
        hls.attachMedia(document.querySelectorAll("video")[i]);
      });</script>`,
  },
});

/** A link opened by a browser that knows nothing yet → its first picture decoded; beside a page with a player alone. */
export async function firstFrame(rig: Rig): Promise<Figure[]> {
  const link = await recording(rig);
  const ours: number[] = [];
  const least: number[] = [];
  for (let n = 0; n < 7; n++) {
    ours.push(await toFirstPicture(rig, new URL(link).pathname));
    least.push(await toFirstPicture(rig, "/bare.html", bare(link)));
  }
  const figure = figureOf("first-frame");
  const value = median(ours);
  return [
    figure("link opened, cold, to first frame (median of 7)", value, "ms", "≤ 1000", value <= 1000),
    figure("slowest of 7", Math.max(...ours), "ms"),
    figure("a page with the player alone (median of 7)", median(least), "ms"),
    figure("ours / that", value / median(least), "×"),
  ];
}

/** How far the camera layer is from the screen, sampled at every animation frame. */
export async function sync(rig: Rig): Promise<Figure[]> {
  const link = await recording(rig);
  return withBrowser(async (browser) => {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.goto(link);
    await page.getByRole("button", { name: /^Play, / }).click();
    await sampleDrifts(page, 3);
    const plain = p95(await sampleDrifts(page, 5));
    await page.evaluate(() => window.clearNodPlayer!.seek(20_000_000));
    await sampleDrifts(page, 1);
    const sought = p95(await sampleDrifts(page, 4));
    await page.evaluate(() => window.clearNodPlayer!.setRate(2));
    await sampleDrifts(page, 1);
    const double = p95(await sampleDrifts(page, 4));
    const figure = (name: string, value: number): Figure => ({
      bench: "sync",
      figure: `drift p95, ${name}`,
      value,
      unit: "ms",
      goal: "≤ 40",
      met: value <= 40,
    });
    return [figure("after 3 s of play", plain), figure("after a seek", sought), figure("at 2×", double)];
  });
}

/** The same at 1× with a moving 1920 × 1080 screen and a 640 × 480 camera, of which two cores decode every picture. */
export async function syncLarge(rig: Rig): Promise<Figure[]> {
  const link = await recording(rig, true);
  return withBrowser(async (browser) => {
    const page = await (await browser.newContext({ viewport: { width: 1280, height: 800 } })).newPage();
    await page.goto(link);
    await page.getByRole("button", { name: /^Play, / }).click();
    await sampleDrifts(page, 3);
    const value = p95(await sampleDrifts(page, 20));
    const shown = await page.evaluate(() => {
      const { droppedVideoFrames, totalVideoFrames } = document.querySelector("video")!.getVideoPlaybackQuality();
      return 100 * (1 - droppedVideoFrames / totalVideoFrames);
    });
    return [
      { bench: "sync-1080", figure: "drift p95 over 20 s", value, unit: "ms", goal: "≤ 40", met: value <= 40 },
      { bench: "sync-1080", figure: "pictures shown of those decoded", value: shown, unit: "%", goal: "", met: null },
    ];
  });
}

/** Ten (`MINUTES=10`) show more, and are not waited for every time. */
const WATCH_MINUTES = Number(process.env.MINUTES ?? 5);
/** A player fills its buffers and the page comes alive first. */
const WATCH_SETTLED_SECONDS = 120;

/** Minutes of watching a long recording at 1×, with a seek every ten seconds: memory has to stay flat. */
export async function watchLong(rig: Rig): Promise<Figure[]> {
  const link = await recording(rig, false, 1_800);
  const page = await QuietPage.open(rig, new URL(link).pathname);
  try {
    await page.press(/^Play, /);
    const memory: { at: number; megabytes: number }[] = [];
    const began = performance.now();
    let seek = 0;
    for (let at = 0; at < WATCH_MINUTES * 60; at = (performance.now() - began) / 1000) {
      await new Promise((next) => setTimeout(next, 10_000));
      // All over the length, back and forth.
      await page.evaluate(`clearNodPlayer.seek(${((++seek * 617) % 1_700) * 1e6})`);
      await page.collectGarbage();
      memory.push({ at, megabytes: (await page.cost()).rendererMegabytes });
    }
    const growth = slope(memory.filter((m) => m.at >= WATCH_SETTLED_SECONDS)) * 60;
    const most = Math.max(...memory.map((m) => m.megabytes));
    const name = `${WATCH_MINUTES} min, a seek every ten seconds`;
    const figure = figureOf("watch");
    return [
      figure(`${name}: growth after 2 min`, growth, "MB/min", "≤ 2", growth <= 2),
      figure(`${name}: most memory`, most, "MB"),
    ];
  } finally {
    await page.close();
  }
}
