import { chromium, type Browser, type Page } from "@playwright/test";
import type { Rig } from "./rig";

export const CHROMIUM = "/usr/bin/chromium";
export const FLAGS = [
  "--disable-gpu",
  "--disable-quic",
  "--no-first-run",
  "--disable-background-networking",
  "--disable-component-update",
  "--disable-sync",
  "--js-flags=--expose-gc",
  "--autoplay-policy=no-user-gesture-required",
  "--use-fake-ui-for-media-stream",
  "--use-fake-device-for-media-stream",
];

export const openBrowser = (): Promise<Browser> =>
  chromium.launch({
    executablePath: CHROMIUM,
    chromiumSandbox: process.getuid?.() !== 0,
    args: FLAGS,
  });

export async function withBrowser<T>(work: (browser: Browser) => Promise<T>): Promise<T> {
  const browser = await openBrowser();
  try {
    return await work(browser);
  } finally {
    await browser.close();
  }
}

/** A page of the rig's member. */
export async function signedIn(rig: Rig, browser: Browser): Promise<Page> {
  const context = await browser.newContext({
    baseURL: rig.base,
    viewport: { width: 1280, height: 800 },
    permissions: ["camera", "microphone", "clipboard-read", "clipboard-write"],
  });
  const [name, value] = rig.cookie.split("=") as [string, string];
  await context.addCookies([{ name, value, url: rig.base }]);
  return context.newPage();
}
