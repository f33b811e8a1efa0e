import { AxeBuilder } from "@axe-core/playwright";
import { chromium, expect, type Browser, type LaunchOptions, type Page } from "@playwright/test";
import { showsCamera, showsScreen, type TakeSource, type TrackKind } from "../core/media/tracks";
import { makeTrack, type MadeKind, type MadeTrack } from "../testing/media";
import { contentDigest } from "../testing/server";

let count = 0;

const WORKSPACE = "Fenn & Lark Glasshouses";
export const PASSWORD = "ridge-vent-and-putty";
const newAddress = () => `p${Date.now().toString(36)}${count++}@glasshouse.test`;

/** A new person with a workspace of their own, signed in without a page. @returns their address */
export async function signUp(page: Page, name = "Orla Fenn"): Promise<string> {
  const email = newAddress();
  const form = { name, workspace: WORKSPACE, email, password: PASSWORD };
  expect((await page.request.post("/sign-up", { form, maxRedirects: 0 })).status()).toBe(302);
  return email;
}

/** The same as a person does it; ends in the empty library. */
export async function signUpByForm(page: Page, name = "Orla Fenn"): Promise<string> {
  const email = newAddress();
  await page.goto("/sign-up");
  await page.getByLabel("Your name").fill(name);
  await page.getByLabel("Workspace").fill(WORKSPACE);
  await page.getByLabel("E-mail address").fill(email);
  await page.getByLabel("Password").fill(PASSWORD);
  await page.getByRole("button", { name: "Start" }).click();
  await expect(page.getByRole("heading", { name: "Your library is empty" })).toBeVisible();
  return email;
}

/** Joins the workspace of whoever owns it, by a link that they make. @param page of the one who joins */
export async function colleagueOf(owner: Page, page: Page, name: string): Promise<Page> {
  await owner.goto("/workspace");
  await owner.getByRole("button", { name: "Make a link to join" }).click();
  await owner.getByRole("button", { name: "Copy" }).click();
  await page.goto(await owner.evaluate(() => navigator.clipboard.readText()));
  await page.getByRole("link", { name: "Make an account" }).click();
  await page.getByLabel("Your name").fill(name);
  await page.getByLabel("E-mail address").fill(newAddress());
  await page.getByLabel("Password").fill(PASSWORD);
  await page.getByRole("button", { name: "Join" }).click();
  await expect(page.getByRole("navigation", { name: "Places" })).toBeVisible();
  return page;
}

/** A page in the browser of somebody else. */
export const another = async (browser: Browser) => (await browser.newContext()).newPage();

/** Somebody without an account opens a link, comments there, and says who they are. */
export async function commentAsGuest(page: Page, link: string, words: string, name: string): Promise<void> {
  await page.goto(link);
  await page.getByLabel("Comment at this moment").fill(words);
  await page.getByRole("button", { name: "Comment", exact: true }).click();
  await page.getByLabel("Your name").fill(name);
  await page.getByRole("button", { name: "Go on" }).click();
  await expect(page.getByRole("listitem").filter({ hasText: words })).toBeVisible();
}

/** The codes that were mailed to an address, the newest first, as the page shows them that keeps what is mailed. */
export async function mailedCodes(page: Page, address: string): Promise<string[]> {
  const post = await page.context().newPage();
  await post.goto("/post");
  const codes = post
    .getByRole("article")
    .filter({ hasText: address })
    .getByRole("heading", { name: /is your code for Clear Nod/ });
  const subjects = await codes.allTextContents();
  await post.close();
  return subjects.map((subject) => subject.slice(0, 6));
}

/** Waits until so many were mailed. @returns the newest */
export async function mailedCode(page: Page, address: string, count = 1): Promise<string> {
  let codes: string[] = [];
  await expect.poll(async () => (codes = await mailedCodes(page, address)).length).toBe(count);
  return codes[0]!;
}

export const phase = (page: Page) => page.getByTestId("state");

/** The line of a fold, by its title. */
export const fold = (page: Page, title: string) => page.locator("summary").filter({ hasText: title });

/** Chooses what to show; ends when it is shown, and nothing is recorded. */
export async function chooseSurface(page: Page): Promise<void> {
  await page.getByRole("button", { name: "Choose what to show" }).click();
  await expect(page.getByLabel("Screen preview")).toBeVisible();
  await expect(phase(page)).toHaveAttribute("data-phase", "ready");
}

/** Starts recording; ends when the count-in is over. */
export async function startRecording(page: Page, source = "Screen and camera", audience?: "anyone"): Promise<void> {
  await page.goto("/record");
  await page.getByRole("button", { name: source, exact: true }).click();
  if (audience) {
    await page.getByLabel("Who can open the link").click();
    await page.getByRole("option", { name: /Anyone with the link/ }).click();
  }
  if (source !== "Screen") await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();
  if (source.includes("amera")) await expect(page.getByLabel("Camera preview")).toBeVisible();
  if (source.includes("creen")) await chooseSurface(page);
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
}

/** What the recorder's own clock shows, in seconds, within the first minute. */
export const recorded = async (page: Page): Promise<number> =>
  Number((await page.getByRole("timer").textContent())!.split(":")[1]);

/** Waits until it shows so many. */
export async function recordedSeconds(page: Page, seconds: number): Promise<void> {
  await expect.poll(() => recorded(page), { timeout: (seconds + 20) * 1000 }).toBeGreaterThanOrEqual(seconds);
}

export async function stopAndOpen(page: Page): Promise<string> {
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await page.waitForURL(/\/w\//, { timeout: 30_000 });
  return page.url();
}

/** A browser in which whoever shares something shares the tab of this title, without being asked. */
export const browserSharing = (title: string, launchOptions: LaunchOptions): Promise<Browser> =>
  chromium.launch({
    ...launchOptions,
    args: [
      ...launchOptions.args!.filter((a) => a !== "--use-fake-ui-for-media-stream"),
      `--auto-select-tab-capture-source-by-title=${title}`,
    ],
  });

/** Samples of how far the followers are from the lead, in ms, over so many seconds of playing. */
export async function sampleDrifts(page: Page, seconds: number): Promise<number[]> {
  return page.evaluate(async (ms) => {
    const out: number[] = [];
    const end = performance.now() + ms;
    while (performance.now() < end) {
      await new Promise((next) => requestAnimationFrame(next));
      const { clearNodPlayer: shown } = window;
      if (shown?.snapshot().playing && !shown.snapshot().waiting) out.push(...shown.drifts());
    }
    return out;
  }, seconds * 1000);
}

/**
 * Waits until the layers are in step to 40 ms over a second and a half of playing. On a machine that is busy with
 * something else they may be out of it for a while; a player that does not bring them together never is.
 * @param from where it plays again each time, in seconds
 */
export const inStep = (page: Page, from: number) =>
  expect
    .poll(
      async () => {
        await player.seek(page, from * 1e6);
        await player.play(page);
        await sampleDrifts(page, 1.5);
        return p95(await sampleDrifts(page, 1.5));
      },
      { timeout: 45_000, intervals: [100] },
    )
    .toBeLessThanOrEqual(40);

export const p95 = (values: number[]): number => {
  const sorted = values.map(Math.abs).sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length * 0.95)] ?? Number.NaN;
};

/**
 * A shared recording of the person of this page, put in by the real ingest without waiting for its length.
 * @returns its link
 */
export const sharedTake = (
  page: Page,
  seconds: number,
  title = "How the ridge vent closes",
  source: TakeSource = "screen-camera",
) => putTake(page, seconds, { source, title, audience: "anyone" });

/** Another take of a recording, put in the same way. */
export const anotherTake = (page: Page, seconds: number, recording: string, source: TakeSource = "screen-camera") =>
  putTake(page, seconds, { source, recording });

const madeOf = (source: TakeSource): Partial<Record<TrackKind, MadeKind>> => ({
  ...(showsScreen(source) && { screen: "screen" }),
  ...(showsCamera(source) && { camera: "camera" }),
  microphone: "microphone",
});

interface NewTake {
  source: TakeSource;
  title?: string;
  audience?: string;
  recording?: string;
}

type Tracks = Partial<Record<TrackKind, MadeKind | MadeTrack>>;

/** Puts in a take by the real ingest. @param tracks what is made for each; as usual where it is not told */
export async function putTake(page: Page, seconds: number, data: NewTake, tracks: Tracks = madeOf(data.source)) {
  const { finish, ...put } = await unfinishedTake(page, seconds, data, tracks);
  await finish();
  return put;
}

/** The same, and the server is not told yet that this is all of it. */
export async function unfinishedTake(page: Page, seconds: number, data: NewTake, tracks: Tracks = madeOf(data.source)) {
  const answer = await page.request.post("/takes", { data });
  expect(answer.status()).toBe(201);
  const started = (await answer.json()) as { takeId: string; recordingId: string; link: string };
  const expected: Record<string, number> = {};
  for (const [kind, made] of Object.entries(tracks)) {
    const { init, segments } = typeof made === "string" ? makeTrack(made, seconds) : made;
    const put = (name: string, bytes: Uint8Array) =>
      page.request.put(`/ingest/${started.takeId}/${kind}/${name}`, {
        data: Buffer.from(bytes),
        headers: { "content-digest": contentDigest(bytes), "content-type": "application/octet-stream" },
      });
    await put("init", init);
    for (const [i, bytes] of segments.entries()) expect((await put(String(i + 1), bytes)).status()).toBe(201);
    expected[kind] = segments.length;
  }
  const finish = () => page.request.put(`/ingest/${started.takeId}/finish`, { data: { expected } });
  return { link: started.link, recordingId: started.recordingId, finish };
}

/** Has the player of a page do something. A page that moves over to another revision has none for a moment. */
const ask = async (page: Page, deed: "play" | "pause" | "seek", at = 0) =>
  void (await page.waitForFunction(
    ([what, to]) => {
      const { clearNodPlayer: shown } = window;
      if (!shown) return false;
      if (what === "seek") shown.seek(to);
      else shown[what]();
      return true;
    },
    [deed, at] as const,
    { polling: 50 },
  ));

/** The player of a page, as soon as it has one. Moments in microseconds. */
export const player = {
  play: (page: Page) => ask(page, "play"),
  pause: (page: Page) => ask(page, "pause"),
  seek: (page: Page, to: number) => ask(page, "seek", to),
  /** Seeks; ends when the pictures stand there, and what lies over them was drawn. */
  stand: async (page: Page, at: number) => {
    await ask(page, "seek", at);
    await page.waitForFunction(
      (to) =>
        Math.abs((window.clearNodPlayer?.snapshot().time ?? -1) - to) < 50_000 &&
        [...document.querySelectorAll<HTMLMediaElement>("[data-layer]")].every(
          (layer) => !layer.seeking && layer.readyState >= 2,
        ),
      at,
      { polling: 50 },
    );
    await page.waitForTimeout(400);
  },
  snapshot: async (page: Page) => {
    const said = await page.waitForFunction(() => window.clearNodPlayer?.snapshot(), null, { polling: 50 });
    return (await said.jsonValue())!;
  },
};

export const playerTime = (page: Page) => page.evaluate(() => (window.clearNodPlayer?.snapshot().time ?? 0) / 1e6);
/** Waits until the player has come to so many seconds. */
export const playedTo = (page: Page, seconds: number) =>
  expect.poll(() => playerTime(page), { timeout: 30_000, intervals: [100] }).toBeGreaterThanOrEqual(seconds);

/** Gives a name where one is asked for. */
export async function giveName(page: Page, name: string): Promise<void> {
  await page.getByRole("textbox", { name: "Your name" }).fill(name);
  await page.getByRole("button", { name: "Go on", exact: true }).click();
}

/** WCAG 2.2 AA as far as a program can tell. */
export async function accessible(page: Page, what: string) {
  const { violations } = await new AxeBuilder({ page })
    // What is right is not written down; where there are no frames, no second page is opened to join them.
    .options({ resultTypes: ["violations"] })
    .setLegacyMode(page.frames().length === 1)
    .withTags(["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"])
    .analyze();
  expect(violations.map((v) => `${what}: ${v.id} at ${v.nodes.map((n) => n.target.join(" ")).join("; ")}`)).toEqual([]);
}

/** That, and nothing is wider than the window. */
export async function sound(page: Page, what: string) {
  await accessible(page, what);
  const size = page.viewportSize()!;
  await page.setViewportSize({ width: 390, height: 844 });
  expect(await page.evaluate(() => document.documentElement.scrollWidth), `${what} at 390 px`).toBeLessThanOrEqual(390);
  await page.setViewportSize(size);
}
