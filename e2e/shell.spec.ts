import { once } from "node:events";
import { mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createServer, request, type Server } from "node:http";
import type { AddressInfo, Socket } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { chromium, type BrowserContext, type Page } from "@playwright/test";
import { USUAL_WISHES } from "../core/desk/wishes";
import { probePackets } from "../testing/media";
import { expect, test } from "./test";
import { fileOf } from "./decoded";
import { fold, phase, recordedSeconds, signUp, signUpByForm } from "./steps";

/** The only way from the browser to the server: what is closed here is cut for all of it, workers too. */
class Line {
  #server: Server | null = null;
  #sockets = new Set<Socket>();
  port = 0;

  async open(): Promise<void> {
    const server = createServer((from, to) => {
      const { hostname, port, pathname, search } = new URL(from.url!);
      const onward = request(
        { host: hostname, port, path: pathname + search, method: from.method, headers: from.headers },
        (answer) => {
          to.writeHead(answer.statusCode!, answer.rawHeaders);
          answer.pipe(to);
        },
      );
      onward.on("error", () => to.destroy());
      to.on("close", () => onward.destroy());
      from.pipe(onward);
    });
    server.on("connection", (socket) => {
      this.#sockets.add(socket);
      socket.on("close", () => this.#sockets.delete(socket));
    });
    server.listen(this.port, "127.0.0.1");
    await once(server, "listening");
    this.port = (server.address() as AddressInfo).port;
    this.#server = server;
  }

  async cut(): Promise<void> {
    const closed = once(this.#server!, "close");
    this.#server!.close();
    for (const socket of this.#sockets) socket.destroy();
    await closed;
  }
}

/** All that the service worker keeps, as one text. */
const keptByWorker = (page: Page) =>
  page.evaluate(`(async () => {
    const texts = [];
    for (const name of await caches.keys()) {
      const cache = await caches.open(name);
      for (const request of await cache.keys()) {
        const answer = await cache.match(request);
        texts.push(request.url + " " + JSON.stringify([...answer.headers]));
        if (/html|javascript|json/.test(answer.headers.get("content-type") ?? "")) texts.push(await answer.text());
      }
    }
    return texts.join("\\n");
  })()`) as Promise<string>;

test("recorded without a connection from a cold start of the browser, played, and sent by itself later", async ({
  baseURL,
  launchOptions,
}) => {
  const line = new Line();
  await line.open();
  const profile = mkdtempSync(join(tmpdir(), "clear-nod-profile-"));
  const start = async (): Promise<[BrowserContext, Page]> => {
    const context = await chromium.launchPersistentContext(profile, {
      ...launchOptions,
      args: [
        ...launchOptions.args!,
        `--proxy-server=http://127.0.0.1:${line.port}`,
        // Not past it, as is usual for this very computer.
        "--proxy-bypass-list=<-loopback>",
      ],
      baseURL,
      permissions: ["camera", "microphone"],
      reducedMotion: "reduce",
      serviceWorkers: "allow",
    });
    return [context, context.pages()[0] ?? (await context.newPage())];
  };
  let [context, page] = await start();
  try {
    const email = await signUpByForm(page, "Orla Fenn");
    await page.evaluate("navigator.serviceWorker.ready.then(() => undefined)");
    await expect.poll(() => page.evaluate("caches.match('/here').then((page) => Boolean(page))")).toBe(true);
    const kept = await keptByWorker(page);
    expect(kept).toContain("/here ");
    for (const secret of [email, "Orla", "Lark", "set-cookie"]) expect(kept.includes(secret), secret).toBe(false);
    // What is kept for the person is known without a connection as well.
    await page.request.post("/set-ups", {
      form: {
        do: "save",
        name: "Cellar",
        isFirst: "false",
        wishes: JSON.stringify({ ...USUAL_WISHES, source: "voice" }),
      },
    });
    await page.goto("/record");
    await expect(phase(page)).toHaveAttribute("data-phase", "ready");
    await context.close();

    await line.cut();
    [context, page] = await start();
    await page.goto("/record");
    await expect(page).toHaveURL(/\/here$/);
    await expect(page.getByText("No connection. You can record all the same")).toBeVisible();
    await fold(page, "Set-up").click();
    await page.getByLabel("Use").click();
    await page.getByRole("option", { name: "Cellar" }).click();
    await expect(page.getByRole("button", { name: "Voice", exact: true })).toHaveAttribute("aria-pressed", "true");
    await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();
    await page.getByRole("button", { name: "Record", exact: true }).click();
    await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
    await recordedSeconds(page, 4);
    await page.getByRole("button", { name: "Stop", exact: true }).click();
    await expect(page.getByText("Its link is there as soon as the server hears of it.")).toBeVisible();
    const here = page.getByRole("region", { name: "On this computer" });
    await expect(here).toContainText(/No connection\. Kept on this computer, will send: \d+ kB in \d+ parts/);
    await page.getByRole("button", { name: "Play it from here" }).click();
    const played = page.getByRole("dialog");
    await played.getByRole("button", { name: "Play", exact: true }).click();
    await expect(played).toContainText(/0:0[2-9] of 0:(0[4-9]|1\d)/);
    // Killed: nobody says good-bye to it.
    await context.close();

    [context, page] = await start();
    await page.goto("/library");
    await expect(page).toHaveURL(/\/here$/);
    const left = page.getByRole("region", { name: "On this computer" });
    await expect(left).toContainText(/“Voice.+No connection/);
    await left.getByRole("button", { name: /^Play “Voice/ }).click();
    await expect(page.getByRole("dialog")).toContainText("0:00 of 0:");
    await page.getByRole("button", { name: "Close" }).click();

    await line.open();
    await page.goto("/library");
    await expect(page).toHaveURL(/\/library$/);
    const row = page.getByRole("listitem").filter({ hasText: "Voice" });
    await expect(row).toContainText("Ready, only you", { timeout: 30_000 });
    await expect(page.getByRole("region", { name: "On this computer" })).toHaveCount(0);
    const link = new URL((await row.getByRole("link").first().getAttribute("href"))!, baseURL).href;
    const { duration } = probePackets(readFileSync(await fileOf(page, link, "microphone")));
    expect(duration).toBeGreaterThan(3.5);
  } finally {
    await context.close();
    await line.cut();
    rmSync(profile, { recursive: true, force: true });
  }
});

test("what is wanted here as well stays after sending, plays, and goes when it is removed", async ({ page }) => {
  await signUp(page);
  await page.goto("/record");
  await page.getByRole("button", { name: "Voice", exact: true }).click();
  await expect(page.getByRole("meter", { name: "Microphone level" })).toBeVisible();
  await page.locator("summary").filter({ hasText: "For me alone" }).click();
  await page.getByLabel("Removed from this computer once all of it was sent").uncheck();
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await recordedSeconds(page, 3);
  await page.getByRole("button", { name: "Stop", exact: true }).click();
  await page.waitForURL(/\/w\//, { timeout: 30_000 });
  await page.goto("/library");
  const here = page.getByRole("region", { name: "On this computer" });
  await expect(here).toContainText(/was sent and is here as well: \d+ kB/);
  await here.getByRole("button", { name: /^Play/ }).click();
  await page.getByRole("dialog").getByRole("button", { name: "Play", exact: true }).click();
  await expect(page.getByRole("dialog")).toContainText(/0:0[1-9] of 0:(0[3-9]|1\d)/);
  await page.getByRole("button", { name: "Close" }).click();
  await here.getByRole("button", { name: "Remove it from here" }).click();
  await expect(here).toHaveCount(0);
});
