import type { Page } from "@playwright/test";
import { readdirSync } from "node:fs";
import { KEY } from "../demo/channel/channel";
import { openWebDav } from "../testing/webdav";
import { expect, test } from "./test";
import { fold, sharedTake, signUp, sound } from "./steps";

/** The places of a recording, where it is shared. */
async function openPlaces(page: Page, link: string) {
  await page.goto(link);
  await page.getByTitle("Change who can open it").click();
  await fold(page, "Outside places").click();
}

test("a file is sent to a place outside, found there by its link, and taken away", async ({ page }) => {
  const server = await openWebDav();
  try {
    await signUp(page);
    const { link } = await sharedTake(page, 4, "How the ridge vent closes", "screen");
    await page.goto("/workspace");
    await fold(page, "Outside places").click();
    const add = async (name: string, password: string) => {
      await page.getByLabel("What we call it").fill(name);
      await page.getByLabel("Address of the folder").fill(server.url);
      await page.getByLabel("Name there").fill(server.account);
      await page.getByLabel("Password there").fill(password);
      await page.getByRole("button", { name: "Add it" }).click();
    };
    await add("Office", "wrong");
    await expect(page.getByText(/it does not let us, with this name and password/)).toBeVisible();
    await add("Office", server.password);
    const places = page.getByRole("list", { name: "Outside places" }).getByRole("listitem");
    await expect(places).toHaveCount(1);
    await expect(page.getByLabel("Password there")).toHaveValue("");
    await add("Archive", server.password);
    await expect(places).toHaveText([/^Office/, /^Archive/]);
    await page.getByRole("button", { name: "Archive up" }).click();
    await expect(places).toHaveText([/^Archive/, /^Office/]);
    await page.getByRole("button", { name: "Archive down" }).click();
    await expect(places).toHaveText([/^Office/, /^Archive/]);
    await sound(page, "places outside");

    await openPlaces(page, link);
    await expect(places).toHaveText([/^Office not sent there/, /^Archive not sent there/]);
    await page.getByRole("button", { name: "Send: Office" }).click();
    await expect(places.first()).toContainText("it is there", { timeout: 60_000 });
    await expect(fold(page, "Outside places")).toContainText("sent to Office");
    await sound(page, "a recording at a place outside");
    const [name] = readdirSync(server.folder);
    await expect(page.getByRole("link", { name: "Office" })).toHaveAttribute(
      "href",
      server.url + encodeURIComponent(name!),
    );
    await page.getByRole("button", { name: "Take it away: Office" }).click();
    await expect(places.first()).toContainText("not sent there", { timeout: 30_000 });
    expect(readdirSync(server.folder)).toEqual([]);
  } finally {
    await server.close();
  }
});

test("at a channel it is worked on, shown to whom it is for, called as it is here, and goes again", async ({
  page,
  browser,
  baseURL,
}) => {
  // The sample's, which stands beside the server.
  const channel = `http://127.0.0.1:${Number(new URL(baseURL!).port) + 2}/`;
  const visitor = await (await browser.newContext()).newPage();
  await visitor.goto(channel);
  await signUp(page);
  const { link } = await sharedTake(page, 4, "How a pane is bedded", "screen");
  await page.goto("/workspace");
  await fold(page, "Outside places").click();
  await page.getByLabel("Kind of place").click();
  await page.getByRole("option", { name: "a channel" }).click();
  await page.getByLabel("What we call it").fill("Guild");
  await page.getByLabel("Address of the channel").fill(channel);
  await page.getByLabel("Key of the channel").fill("wrong");
  await page.getByRole("button", { name: "Add it" }).click();
  await expect(page.getByText(/it does not let us, with this key/)).toBeVisible();
  await page.getByLabel("Key of the channel").fill(KEY);
  await page.getByRole("button", { name: "Add it" }).click();
  const row = page.getByRole("list", { name: "Outside places" }).getByRole("listitem");
  await expect(row).toHaveText(/^Guild/);

  await openPlaces(page, link);
  await visitor.getByRole("button", { name: "Let work on the next one fail" }).click();
  await page.getByRole("button", { name: "Send: Guild" }).click();
  await expect(row.getByRole("alert")).toHaveText("This one fails on purpose. Try it again.", { timeout: 60_000 });
  await expect(fold(page, "As a file")).toContainText("B");
  await visitor.getByRole("button", { name: "Break off the next upload" }).click();
  await page.getByRole("button", { name: "Try again: Guild" }).click();
  await expect(row).toContainText("it is there", { timeout: 60_000 });
  await sound(page, "a recording at a channel");

  const there = (await page.getByRole("link", { name: "Guild" }).getAttribute("href"))!;
  await visitor.goto(there);
  await expect(visitor.getByRole("heading", { name: "There is nothing here." })).toBeVisible();
  await page.getByLabel("Seen at Guild by").click();
  await page.getByRole("option", { name: "whoever has its link there" }).click();
  await expect(async () => {
    await visitor.goto(there);
    await expect(visitor.getByRole("heading", { name: "How a pane is bedded" })).toBeVisible({ timeout: 1_000 });
  }).toPass();
  await expect
    .poll(() => visitor.locator("video").evaluate((video: HTMLVideoElement) => video.duration))
    .toBeGreaterThan(3);

  await page.getByRole("button", { name: "Take it away: Guild" }).click();
  await expect(row).toContainText("not sent there");
  await visitor.goto(there);
  await expect(visitor.getByRole("heading", { name: "There is nothing here." })).toBeVisible();
});
