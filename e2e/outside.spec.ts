import { expect, test } from "./test";
import { another, colleagueOf, putTake, signUp, sound } from "./steps";

test("an owner calls the workspace another name, and says that only owners share with people outside", async ({
  page,
  browser,
}) => {
  await signUp(page);
  const wren = await colleagueOf(page, await another(browser), "Wren Thistle");
  await page.goto("/workspace");
  await page.getByText("This workspace", { exact: true }).click();
  await page.getByLabel("What it is called").fill("The Glass Works");
  await page.getByRole("button", { name: "Rename it" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "The Glass Works" })).toBeVisible();
  await page.getByText("This workspace", { exact: true }).click();
  await page.getByRole("combobox", { name: "Who may share with people outside" }).click();
  await page.getByRole("option", { name: "Owners alone" }).click();
  await expect(page.getByText("its name; owners share outside")).toBeVisible();
  await sound(page, "the settings of a workspace");

  await wren.goto("/record");
  await expect(wren.getByRole("button", { name: "The Glass Works, workspace" })).toBeVisible();
  await wren.getByRole("combobox", { name: "Who can open the link" }).click();
  await expect(wren.getByRole("option", { name: /^Everybody of the workspace/ })).toBeVisible();
  await expect(wren.getByRole("option", { name: /^Anyone/ })).toHaveCount(0);
  await wren.keyboard.press("Escape");
  // One that asks for it all the same is a draft.
  const { link } = await putTake(wren, 4, { source: "voice", title: "Oil for the hinges", audience: "anyone" });
  await wren.goto(link);
  await wren.getByRole("button", { name: "Draft: only you" }).click();
  const dialog = wren.getByRole("dialog", { name: "Who can open it" });
  await dialog.getByRole("button", { name: /^Who can open it/ }).click();
  await wren.getByRole("menuitemradio", { name: /^Anyone/ }).click();
  await expect(dialog.getByRole("alert")).toHaveText(/only its owners share with people outside/);
  await dialog.getByLabel("Name people").fill("Hester Quill");
  await wren.getByRole("button", { name: "Name them" }).click();
  await expect(dialog.getByText(/only its owners share with people outside/).last()).toBeVisible();
  expect((await (await another(browser)).goto(link))!.status()).toBe(404);

  await page.goto("/record");
  await page.getByRole("combobox", { name: "Who can open the link" }).click();
  await expect(page.getByRole("option", { name: /^Anyone/ })).toBeVisible();
});
