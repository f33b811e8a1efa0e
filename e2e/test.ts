import { test as base } from "@playwright/test";

export { expect } from "@playwright/test";

/**
 * A test, after which every window that it has opened is closed: pages that record or play go on otherwise, and take
 * the processor from all tests that follow.
 */
export const test = base.extend<{ closing: void }>({
  closing: [
    async ({ browser }, use) => {
      await use();
      for (const context of browser.contexts()) await context.close();
    },
    { auto: true },
  ],
});
