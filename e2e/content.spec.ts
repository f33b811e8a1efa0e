import { randomUUID } from "node:crypto";
import type { Page } from "@playwright/test";
import { act, begun, shownBy } from "../core/recipe/history";
import { frameAt, momentOf } from "../core/recipe/frames";
import type { Range } from "../core/time/ranges";
import { random } from "../testing/random";
import { expect, test } from "./test";
import { hasFirefox, inFirefox } from "./firefox";
import { putTake, signUp } from "./steps";

const SECONDS = 24;
/** Samples a second, and in half a packet of AAC. */
const RATE = 48_000;
const HALF_A_PACKET = 512;

/** A recording whose pictures are numbered and whose sound tells its place, after 20 random cuts. */
async function edited(page: Page): Promise<{ link: string; kept: Range[] }> {
  await signUp(page);
  const data = { source: "screen", title: "How the ridge vent closes", audience: "anyone" } as const;
  const { link, recordingId } = await putTake(page, SECONDS, data, { screen: "numbered", microphone: "chirp" });
  const take = { from: 0, to: momentOf(SECONDS * 30) };
  const pick = random(29);
  let history = begun({ kept: [take], dress: {} });
  for (let n = 0; n < 20; n++) {
    const from = pick(SECONDS * 30 - 30);
    const cut = { from: momentOf(from), to: momentOf(from + 3 + pick(20)) };
    history = act(history, shownBy(history), { do: "leave-out", ...cut }, [take]);
  }
  const draft = async (form: Record<string, string>) => {
    const answer = await page.request.post(`/recordings/${recordingId}/draft`, { form });
    expect(answer.status()).toBe(200);
  };
  await draft({ do: "save", by: randomUUID(), version: "0", seen: "1", history: JSON.stringify(history) });
  await draft({ do: "publish", version: "1", seen: "1" });
  await expect
    .poll(async () => (await page.request.get(`${link}/r2/screen.m3u8`)).status(), { timeout: 60_000 })
    .toBe(200);
  return { link, kept: shownBy(history).kept };
}

/** Which picture and which place of the recording are shown at frames of what is published. */
function wantedOf(kept: readonly Range[]): number[] {
  return kept.flatMap(({ from, to }) => Array.from({ length: frameAt(to - from) }, (_, n) => frameAt(from) + n));
}

/** What of a browser's page is needed, whoever drives it. */
interface Driven {
  evaluate<T, A>(work: (given: A) => Promise<T>, given: A): Promise<T>;
}

/** The numbers drawn in the pictures that a player shows at these moments. Seconds */
const numbersAt = (page: Driven, moments: number[]) =>
  page.evaluate(async (given) => {
    const player = window.clearNodPlayer!;
    const video = document.querySelector("video")!;
    const sheet = new OffscreenCanvas(320, 240).getContext("2d", { willReadFrequently: true })!;
    const numbers = [];
    for (const moment of given) {
      player.seek(moment * 1e6);
      do await new Promise((next) => setTimeout(next, 60));
      while (video.seeking || video.readyState < 2 || Math.abs(video.currentTime - moment) > 0.02);
      sheet.drawImage(video, 0, 0, 320, 240);
      const row = sheet.getImageData(0, 120, 320, 1).data;
      numbers.push(Array.from({ length: 16 }, (_, bit) => (row[4 * (bit * 20 + 10)]! > 117 ? 2 ** bit : 0)));
    }
    return numbers.map((bits) => bits.reduce((sum, bit) => sum + bit, 0));
  }, moments);

/** The samples of the published voice, as the browser decodes them at 48 kHz. */
const soundOf = async (page: Driven, list: string) => {
  const text = await page.evaluate(async (address) => {
    const playlist = await (await fetch(address)).text();
    const names = [...playlist.matchAll(/URI="([^"]+)"|^([^#\s].*)$/gm)].map((m) => new URL(m[1] ?? m[2]!, address));
    const parts = await Promise.all(names.map(async (name) => (await fetch(name)).arrayBuffer()));
    const sound = await new OfflineAudioContext(1, 1, 48_000).decodeAudioData(await new Blob(parts).arrayBuffer());
    const shorts = Int16Array.from(sound.getChannelData(0), (v) => Math.max(-1, Math.min(1, v)) * 32_767);
    let bytes = "";
    for (const byte of new Uint8Array(shorts.buffer)) bytes += String.fromCharCode(byte);
    return btoa(bytes);
  }, list);
  const bytes = Uint8Array.from(Buffer.from(text, "base64"));
  return Float32Array.from(new Int16Array(bytes.buffer), (v) => v / 32_768);
};

/** The sound that was recorded (the formula by which ffmpeg has made it). */
const chirp = (sample: number) => 0.4 * Math.sin(2 * Math.PI * (200 * (sample / RATE) + 20 * (sample / RATE) ** 2));

/** By how many samples what is heard at a place is away from the sound that was recorded at another one. */
function lagOf(heard: Float32Array, at: number, recorded: number): number {
  let best = { fit: -Infinity, lag: 0 };
  for (let lag = -1_200; lag <= 1_200; lag += 8) {
    let fit = 0;
    for (let n = 0; n < 4_096; n += 4) fit += (heard[at + n] ?? 0) * chirp(recorded + n + lag);
    if (fit > best.fit) best = { fit, lag };
  }
  return best.lag;
}

async function check(page: Driven, link: string, kept: readonly Range[]) {
  const wanted = wantedOf(kept);
  // Both sides of every cut, and some between.
  const pick = random(5);
  let end = 0;
  const sides = kept.flatMap(({ from, to }) => {
    const begins = end;
    end += frameAt(to - from);
    return [begins, end - 1];
  });
  const frames = [...sides, ...Array.from({ length: 24 }, () => pick(wanted.length))];
  const shown = await numbersAt(
    page,
    frames.map((frame) => (frame + 0.5) / 30),
  );
  expect(shown).toEqual(frames.map((frame) => wanted[frame]));

  const heard = await soundOf(page, `${link}/r2/microphone.m3u8`);
  expect(Math.abs(heard.length / RATE - wanted.length / 30)).toBeLessThan(0.1);
  let at = 0;
  const lags: number[] = [];
  for (const { from, to } of kept) {
    const [begins, length] = [at * 1_600, frameAt(to - from) * 1_600];
    at += frameAt(to - from);
    if (length > 12_000) lags.push(lagOf(heard, begins + length - 7_000, frameAt(from) * 1_600 + length - 7_000));
  }
  expect(lags.length).toBeGreaterThan(4);
  // No more than half a packet each, and none adds up: what a decoder is late by is the same everywhere.
  const late = [...lags].sort((a, b) => a - b)[Math.floor(lags.length / 2)]!;
  for (const lag of lags) expect(Math.abs(lag - late)).toBeLessThan(HALF_A_PACKET + 16);
  expect(Math.abs(late)).toBeLessThan(2 * HALF_A_PACKET + 16);
}

const begin = async (page: Driven) => {
  await page.evaluate(async () => {
    while (!window.clearNodPlayer) await new Promise((next) => setTimeout(next, 100));
    for (const media of document.querySelectorAll("video, audio")) (media as HTMLMediaElement).muted = true;
    window.clearNodPlayer.play();
    while (window.clearNodPlayer.snapshot().time < 3e5) await new Promise((next) => setTimeout(next, 50));
    window.clearNodPlayer.pause();
  }, null);
};

test("after 20 cuts a player shows each picture and sounds each place that the recipe names", async ({
  page,
  browser,
}) => {
  const { link, kept } = await edited(page);
  const guest = await (await browser.newContext()).newPage();
  await guest.goto(link);
  await begin(guest);
  await check(guest, link, kept);
});

if (hasFirefox)
  test("so does Firefox", async ({ page }) => {
    const { link, kept } = await edited(page);
    await inFirefox(async (guest) => {
      await guest.goto(link);
      const driven = guest as unknown as Driven;
      await begin(driven);
      await check(driven, link, kept);
    });
  });
