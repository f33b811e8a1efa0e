import { chromium } from "@playwright/test";
const browser = await chromium.launch({
  executablePath: "/usr/bin/chromium",
  args: ["--no-sandbox", "--use-gl=swiftshader"],
});
const [w, h] = (process.argv[3] ?? "1280x800").split("x").map(Number);
const context = await browser.newContext({
  viewport: { width: w!, height: h! },
  reducedMotion: "reduce",
  serviceWorkers: "block",
  baseURL: "http://localhost:5190",
});
const page = await context.newPage();
await page.goto("/sign-in");
await page.getByRole("button", { name: /Orla/ }).click();
await page.waitForURL(/library/);
await page.goto("/library");
const href = await page
  .getByRole("link", { name: /./ })
  .evaluateAll((all) => all.map((a) => [a.getAttribute("href"), a.textContent]));
const named = href.filter(([h]) => h?.startsWith("/w/"));
console.log(named.slice(0, 12));
await page.goto(named[Number(process.argv[4] ?? 0)]![0]!);
await page.getByRole("link", { name: "Edit", exact: true }).click();
await page.getByRole("group", { name: "What was recorded" }).waitFor();
await page.waitForTimeout(5000);
const box = (await page.getByRole("group", { name: "What was recorded" }).boundingBox())!;
const drag = async (a: number, b: number) => {
  await page.mouse.move(box.x + box.width * a, box.y + 60);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * b, box.y + 60, { steps: 6 });
  await page.mouse.up();
};
if (process.argv[2]!.includes("cut")) {
  await page.getByRole("button", { name: /^Play,/ }).click();
  await page.waitForTimeout(1500);
  await page.evaluate("window.clearNodPlayer.pause()");
  await drag(0.0, 0.06);
  await page.keyboard.press("x");
  await drag(0.35, 0.47);
  await page.keyboard.press("x");
  await drag(0.6, 0.7);
  await page.waitForTimeout(1500);
}
if (process.argv[2]!.includes("wide")) {
  for (let i = 0; i < 3; i++) await page.keyboard.press("w");
  await page.waitForTimeout(800);
}
await page.screenshot({ path: `/tmp/${process.argv[2]}.png` });
await browser.close();
