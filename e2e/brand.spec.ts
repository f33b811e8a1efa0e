import sharp from "sharp";
import { expect, test } from "./test";
import { another, colleagueOf, fold, sharedTake, signUp, sound } from "./steps";

const YELLOW = "#e0a800";
const PURPLE = "#5b2a6e";
/** What stands between the corners of a colour as a browser writes it. */
const rgb = (color: string) => `rgb(${[1, 3, 5].map((at) => parseInt(color.slice(at, at + 2), 16)).join(", ")})`;

test("a workspace's emblem and colours stand at its links, and can be read in both schemes", async ({
  page,
  browser,
}) => {
  await signUp(page);
  const { link } = await sharedTake(page, 4, "Lead flashing", "voice");
  await page.goto("/workspace");
  await fold(page, "Emblem and colours").click();
  const field = (name: string) => page.getByRole("textbox", { name, exact: true });
  await field("The bar at the top").fill("purple");
  await expect(page.getByText("Six digits, like #2f7d5b")).toBeVisible();
  await expect(page.getByRole("button", { name: "Keep these colours" })).toBeDisabled();
  await field("The bar at the top").fill(PURPLE);
  await field("Buttons, links, and what has been played").fill(YELLOW);
  // What is shown before it is kept: a yellow that can be read on paper is a darker one.
  const nod = (scheme: string) => page.getByRole("figure", { name: scheme }).getByText("Give a nod");
  await expect(nod("Where it is dark")).toHaveCSS("background-color", rgb(YELLOW));
  await expect(nod("Where it is light")).not.toHaveCSS("background-color", rgb(YELLOW));
  await page.getByLabel("Choose an emblem").setInputFiles({
    name: "emblem.txt",
    mimeType: "image/png",
    buffer: Buffer.from("no picture at all"),
  });
  await expect(page.getByText("This is no picture that can be taken. PNG, JPEG, WebP and SVG can.")).toBeVisible();
  const emblem = sharp({ create: { width: 400, height: 100, channels: 3, background: "#e8d9a0" } });
  await page.getByLabel("Choose an emblem").setInputFiles({
    name: "emblem.png",
    mimeType: "image/png",
    buffer: await emblem.png().toBuffer(),
  });
  await expect(page.getByRole("button", { name: "Another emblem" })).toBeVisible();
  await page.getByRole("button", { name: "Keep these colours" }).click();
  await expect(page.getByText("Kept. Links look so from now on.")).toBeVisible();
  await sound(page, "how a workspace looks");

  const guest = await another(browser);
  for (const colorScheme of ["light", "dark"] as const) {
    await guest.emulateMedia({ colorScheme });
    await guest.goto(link);
    await expect(guest.getByRole("button", { name: "Play", exact: true })).toBeEnabled();
    await sound(guest, `a link in colours of its own, ${colorScheme}`);
    const shown = guest.getByRole("banner").locator("img");
    await expect(shown).toHaveJSProperty("naturalWidth", 400);
    const play = guest.getByRole("button", { name: "Play", exact: true });
    if (colorScheme === "dark") await expect(play).toHaveCSS("background-color", rgb(YELLOW));
    else await expect(guest.getByRole("banner")).toHaveCSS("background-color", rgb(PURPLE));
  }
  await guest.goto(link.replace("/w/", "/e/"));
  await expect(guest.getByRole("img", { name: "Fenn & Lark Glasshouses" })).toHaveJSProperty("naturalWidth", 400);
  // Elsewhere everything has our colours.
  await guest.goto("/sign-in");
  await expect(guest.getByRole("banner")).not.toHaveCSS("background-color", rgb(PURPLE));

  const bram = await colleagueOf(page, await another(browser), "Bram Lark");
  await bram.goto("/workspace");
  await expect(fold(bram, "Emblem and colours")).toHaveCount(0);
  const refused = await bram.request.post("/workspace.data", { form: { do: "brand", accent: "", bar: "" } });
  expect(refused.status()).toBe(403);
  const picture = await bram.request.post("/emblems/new", { data: await emblem.png().toBuffer() });
  expect(picture.status()).toBe(403);

  await page.goto("/workspace");
  await fold(page, "Emblem and colours").click();
  await page.getByRole("button", { name: "Take it off" }).click();
  await expect(page.getByRole("button", { name: "Choose an emblem" })).toBeVisible();
  for (const part of ["Buttons, links, and what has been played", "The bar at the top"])
    await page.getByRole("button", { name: `${part}: ours` }).click();
  await page.getByRole("button", { name: "Keep these colours" }).click();
  await expect(fold(page, "Emblem and colours")).toContainText("ours");
  for (const other of [guest, bram]) await other.context().close();
});
