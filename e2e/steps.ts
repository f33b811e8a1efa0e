import { expect, type Page } from "@playwright/test";

let count = 0;

/** A new person with a workspace of their own; ends in the empty library. */
export async function signUp(page: Page, name = "Orla Fenn"): Promise<string> {
  const email = `p${Date.now().toString(36)}${count++}@glasshouse.test`;
  await page.goto("/sign-up");
  await page.getByLabel("Your name").fill(name);
  await page.getByLabel("Workspace").fill("Fenn & Lark Glasshouses");
  await page.getByLabel("E-mail address").fill(email);
  await page.getByLabel("Password").fill("ridge-vent-and-putty");
  await page.getByRole("button", { name: "Start" }).click();
  await expect(page.getByRole("heading", { name: "Your library is empty" })).toBeVisible();
  return email;
}

export const phase = (page: Page) => page.getByTestId("state");

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
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
}

/** Waits until the recorder's own clock shows so many seconds. */
export async function recordedSeconds(page: Page, seconds: number): Promise<void> {
  await expect.poll(async () => Number((await page.getByRole("timer").textContent())!.split(":")[1]), { timeout: (seconds + 20) * 1000 }).toBeGreaterThanOrEqual(seconds);
}

export async function stopAndOpen(page: Page): Promise<string> {
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await page.waitForURL(/\/w\//, { timeout: 30_000 });
  return page.url();
}

/** Samples of how far the followers are from the lead, in ms, over so many seconds of playing. */
export async function sampleDrifts(page: Page, seconds: number): Promise<number[]> {
  return page.evaluate(async (ms) => {
    const out: number[] = [];
    const end = performance.now() + ms;
    while (performance.now() < end) {
      await new Promise((next) => requestAnimationFrame(next));
      const player = window.clearNodPlayer!;
      if (player.snapshot().playing && !player.snapshot().waiting) out.push(...player.drifts());
    }
    return out;
  }, seconds * 1000);
}

export const p95 = (values: number[]): number => {
  const sorted = values.map(Math.abs).sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length * 0.95)] ?? Number.NaN;
};
