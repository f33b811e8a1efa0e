import { test as base } from "@playwright/test";
import { LEVEL_QUALITY } from "../core/media/quality";

export { expect } from "@playwright/test";

/** What the desk begins with where the recording is only what a test needs: little to encode, and no count-in. */
const QUICK = JSON.stringify({ quality: LEVEL_QUALITY.small, countIn: "0" });

interface Given {
  /** the desk begins as on anybody's first visit: for tests that are about that */
  asShipped: boolean;
  /** where the run's server keeps its data */
  dataDir: string;
  closing: void;
}

export const test = base.extend<Given>({
  asShipped: [false, { option: true }],
  // Playwright asks for a pattern, also where nothing is taken out of it.
  // eslint-disable-next-line no-empty-pattern
  dataDir: ({}, provide, { config }) => provide(config.metadata.dataDir as string),
  context: async ({ context, asShipped }, provide) => {
    if (!asShipped)
      await context.addInitScript((wishes) => {
        try {
          if (localStorage.getItem("clear-nod-wishes") === null) localStorage.setItem("clear-nod-wishes", wishes);
        } catch {
          // A page without an origin of its own keeps nothing.
        }
      }, QUICK);
    await provide(context);
  },
  /**
   * After a test every window that it has opened is closed: pages that record or play go on otherwise, and take the
   * processor from all tests that follow.
   */
  closing: [
    async ({ browser }, use) => {
      await use();
      for (const context of browser.contexts()) await context.close();
    },
    { auto: true },
  ],
});
