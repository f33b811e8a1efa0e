import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { fold, phase, recordedSeconds, signUp, sound, startRecording, stopAndOpen } from "./steps";

const points = (page: Page) => page.getByRole("list", { name: "Talking points" }).getByRole("textbox");

test("talking points are sorted, ticked while recording, and become chapters; the script moves", async ({ page }) => {
  await signUp(page);
  await page.goto("/record");
  await fold(page, "Prompts").click();
  for (const point of ["What it costs", "Which panes are loose", "How we take them out"]) {
    await page.getByLabel("Next point").fill(point);
    await page.getByLabel("Next point").press("Enter");
  }
  await page.getByRole("textbox", { name: "Script", exact: true }).fill("Good morning to all of you. ".repeat(120));
  await expect(fold(page, "Prompts")).toContainText("3 points, a script of 5 minutes 32 seconds");
  // By keys: taken up, moved down twice, put down.
  await page.getByRole("button", { name: "Move “What it costs”", exact: true }).focus();
  await page.keyboard.press("Space");
  await expect(page.getByText("“What it costs” is at place 1 of 3.")).toBeAttached();
  for (const place of [2, 3]) {
    await page.keyboard.press("ArrowDown");
    await expect(page.getByText(`“What it costs” is at place ${place} of 3.`)).toBeAttached();
  }
  await page.keyboard.press("Space");
  const order = ["Which panes are loose", "How we take them out", "What it costs"];
  await expect
    .poll(() => points(page).evaluateAll((all) => all.map((a) => (a as HTMLTextAreaElement).value)))
    .toEqual(order);
  await fold(page, "Tidy up").click();
  await page.getByRole("checkbox", { name: /^Done: Alerts are off/ }).check();
  await expect(fold(page, "Tidy up")).toContainText("2 of 3 to do");
  await sound(page, "prompts");

  await startRecording(page);
  const prompts = page.getByRole("region", { name: "Prompts" });
  const script = prompts.getByRole("region", { name: "Script" });
  await recordedSeconds(page, 2);
  /** Ticks a point. @returns between which seconds of the take that was */
  const tick = async (point: string): Promise<[number, number]> => {
    const clock = () => page.evaluate(() => Math.floor(window.clearNodRecorder!.elapsed() / 1e6));
    const before = await clock();
    await prompts.getByLabel(point).check();
    return [before, await clock()];
  };
  const loose = await tick("Which panes are loose");
  await prompts.getByLabel("What it costs").check();
  await recordedSeconds(page, 4);
  // Ticked by mistake: taken back.
  await prompts.getByLabel("What it costs").uncheck();
  const out = await tick("How we take them out");
  expect(await script.evaluate((box) => box.scrollTop)).toBeGreaterThan(0);
  await page.getByRole("button", { name: "Pause" }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "paused");
  const moves = () =>
    script.evaluate(async (box) => {
      const before = box.scrollTop;
      await new Promise((next) => setTimeout(next, 600));
      return box.scrollTop - before;
    });
  await expect.poll(moves).toBe(0);
  await page.getByRole("button", { name: "Resume" }).click();
  await recordedSeconds(page, 6);
  await stopAndOpen(page);

  await expect(page.getByRole("heading", { name: "Which panes are loose" })).toBeVisible();
  await expect(
    page.getByText("Chapters from your talking points: Which panes are loose, How we take them out."),
  ).toBeVisible();
  await page.getByRole("button", { name: "Use them" }).click();
  await expect(page.getByText("Chapters from your talking points")).toHaveCount(0);
  for (const [point, [from, to]] of [
    ["Which panes are loose", loose],
    ["How we take them out", out],
  ] as const) {
    const label = (await page.getByLabel(new RegExp(`^Chapter ${point}, at \\d+ seconds`)).getAttribute("aria-label"))!;
    const at = Number(/at (\d+) seconds/.exec(label)![1]);
    expect([at >= from, at <= to]).toEqual([true, true]);
  }
  await expect(page.getByLabel(/^Chapter /)).toHaveCount(2);
});
