import { readdirSync } from "node:fs";
import { openWebDav } from "../testing/webdav";
import { expect, test } from "./test";
import { fold, sharedTake, signUp, sound } from "./steps";

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

    await page.goto(link);
    await page
      .getByRole("button", { name: /^Anyone with the link/ })
      .first()
      .click();
    await fold(page, "Outside places").click();
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
