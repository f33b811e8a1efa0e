import { existsSync } from "node:fs";
import puppeteer, { type Page } from "puppeteer-core";

const FIREFOX = "/usr/bin/firefox-esr";

/** Is it there? Where it could be installed, it is another engine, with decoders and an audio clock of its own. */
export const hasFirefox = existsSync(FIREFOX);

/** Does something in a page of Firefox, which plays without a press. */
export async function inFirefox(work: (page: Page) => Promise<void>): Promise<void> {
  const firefox = await puppeteer.launch({
    browser: "firefox",
    executablePath: FIREFOX,
    headless: true,
    extraPrefsFirefox: { "media.autoplay.default": 0 },
  });
  try {
    const page = await firefox.newPage();
    await page.setViewport({ width: 1280, height: 800 });
    await work(page);
  } finally {
    await firefox.close();
  }
}
