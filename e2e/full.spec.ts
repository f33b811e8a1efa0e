import { spawnSync } from "node:child_process";
import { mkdirSync, readdirSync, rmSync, statfsSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { Program } from "./program";
import { accessible, putTake, signUp } from "./steps";

const SIZE = "40m";
/** May this test give a program a small disk of its own? */
const mayMount = spawnSync("unshare", ["-m", "mount", "-t", "tmpfs", "-o", `size=${SIZE}`, "t", "/mnt"]).status === 0;

/** Leaves out the middle third, by the keys of the line. */
async function leaveOut(page: Page): Promise<void> {
  const line = page.getByRole("group", { name: "What was recorded" });
  const box = (await line.boundingBox())!;
  await page.mouse.move(box.x + box.width * 0.35, box.y + 50);
  await page.mouse.down();
  await page.mouse.move(box.x + box.width * 0.6, box.y + 50, { steps: 8 });
  await page.mouse.up();
  await page.getByRole("button", { name: "Leave it out" }).last().click();
}

if (mayMount)
  test("a disk that is full while publishing: it is said, nothing changes, and there is room again", async ({
    browser,
  }) => {
    const mount = `mount -t tmpfs -o size=${SIZE} t "$DISK" && exec "$@"`;
    const program = new Program("off", ["unshare", "-m", "sh", "-c", mount, "sh"]);
    const disk = join(program.dir, "disk");
    mkdirSync(disk);
    Object.assign(program.env, { DISK: disk, STORAGE_URL: `file:${disk}/media` });
    const child = await program.launch();
    await program.up();
    /** the disk, as only the program has it */
    const there = `/proc/${child.pid}/root${disk}`;
    const filled = join(there, "filled");

    const page = await (await browser.newContext({ baseURL: program.base })).newPage();
    await signUp(page);
    const data = { source: "screen", title: "How the ridge vent closes", audience: "anyone" } as const;
    const { link } = await putTake(page, 12, data, { screen: "numbered", microphone: "chirp" });
    await page.goto(link);
    await page.getByRole("link", { name: "Edit", exact: true }).click();
    // What a take looks like is made first.
    await expect(page.getByRole("group", { name: "What was recorded" })).toBeVisible();
    const { bavail, bsize } = statfsSync(there);
    try {
      writeFileSync(filled, Buffer.alloc(bavail * bsize - 4_096));
      writeFileSync(`${filled}-2`, Buffer.alloc(1 << 20));
    } catch (error) {
      expect((error as NodeJS.ErrnoException).code).toBe("ENOSPC");
    }
    expect(statfsSync(there).bavail).toBe(0);
    await leaveOut(page);
    await page.getByRole("button", { name: "Publish", exact: true }).click();
    await expect(page.getByRole("alert")).toContainText("The server's disk is full.");
    await accessible(page, "a disk that is full while publishing");
    expect((await page.request.get(`${link}/r1/screen.m3u8`)).status()).toBe(200);
    expect((await page.request.get(`${link}/r2/screen.m3u8`)).status()).toBe(404);
    await page.reload();
    await expect(page.getByRole("group", { name: "What was done" }).getByRole("listitem")).toHaveCount(1);

    for (const name of readdirSync(there).filter((one) => one.startsWith("filled"))) rmSync(join(there, name));
    await page.getByRole("button", { name: "Publish", exact: true }).click();
    await expect(page.getByText("This is what everybody sees")).toBeVisible({ timeout: 30_000 });
    expect((await page.request.get(`${link}/r2/screen.m3u8`)).status()).toBe(200);
    expect((await page.request.get(`${link}/r1/screen.m3u8`)).status()).toBe(404);
    await program.stop();
  });
