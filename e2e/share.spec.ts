import type { Page } from "@playwright/test";
import jsQR from "jsqr";
import sharp from "sharp";
import { expect, test } from "./test";
import { another, fold, mailedCode, player, sharedTake, signUp, sound } from "./steps";

const dialog = (page: Page) => page.getByRole("dialog", { name: "Who can open it" });
const openDialog = async (page: Page) => {
  await page.getByTitle("Change who can open it").click();
  await expect(dialog(page)).toBeVisible();
};
/** Presses a part of the sentence, and one of what can be chosen there. */
async function choose(page: Page, part: RegExp, choice: RegExp | string) {
  // The sentence moves as it gets other words: what is pressed next is pressed where it stands then.
  await expect(dialog(page).locator("[aria-busy=true]")).toHaveCount(0);
  await dialog(page).getByRole("button", { name: part }).click();
  await page.getByRole("menuitemradio", { name: choice }).click();
}
const nothing = (page: Page) => page.getByRole("heading", { name: "There is nothing here that you can open" });

test("a recording for one client: named, mailed, opened by a link of their own and by a code, and by nobody else", async ({
  page,
  browser,
}) => {
  await signUp(page);
  const { link } = await sharedTake(page, 8);
  await page.goto(link);
  await openDialog(page);
  await sound(page, "who can open it");
  await choose(page, /^Who can open it/, /^Named people/);
  const address = `hester${Date.now()}@quill.example`;
  await dialog(page).getByLabel("Name people").fill(`Hester Quill <${address}>`);
  await page.getByRole("button", { name: "Name them" }).click();
  await expect(dialog(page).getByText(address)).toBeVisible();
  await expect(dialog(page).getByRole("button", { name: "Who can open it: Hester Quill" })).toBeVisible();
  await dialog(page).getByLabel("A line of your own").fill("The third bay, please.");
  await page.getByRole("button", { name: "Mail it to Hester Quill" }).click();
  await expect(dialog(page).getByText("On its way to one person.")).toBeVisible();
  // What became of the mail comes by itself.
  await expect(dialog(page).getByText(/mailed today/)).toBeVisible();
  await page.getByRole("button", { name: "Done" }).click();

  const post = await another(browser);
  await signUp(post, "Whoever Looks");
  await post.goto("/post");
  const letter = post.getByRole("article").filter({ hasText: address }).first();
  const frame = letter.frameLocator("iframe");
  await expect(frame.getByText("The third bay, please.")).toBeVisible();
  const personal = (await frame.getByRole("link", { name: "Watch it" }).getAttribute("href"))!;

  const stranger = await another(browser);
  expect((await stranger.goto(link))!.status()).toBe(404);
  await expect(nothing(stranger)).toBeVisible();
  await sound(stranger, "nothing here");

  const hester = await another(browser);
  await hester.goto(personal);
  await expect(hester.getByRole("heading", { name: "How the ridge vent closes" })).toBeVisible();
  // The address that stands there is not theirs alone: passed on, it opens nothing.
  expect(hester.url()).toBe(link);
  await hester.getByRole("button", { name: /^Play,/ }).click();
  await expect.poll(() => player.snapshot(hester).then(({ time }) => time), { timeout: 30_000 }).toBeGreaterThan(1e6);
  await page.getByRole("tab", { name: "People" }).click();
  await expect(page.getByRole("region", { name: /^Opened|^Watched/ }).getByText("Hester Quill")).toBeVisible();

  // Without the mail at hand: a code to the address that was named, and none to another.
  await stranger.getByLabel("Your e-mail address").fill(address);
  await stranger.getByRole("button", { name: "Mail me a code" }).click();
  await expect(stranger.getByText(/a code is on its way there/)).toBeVisible();
  await stranger.getByLabel("Code", { exact: true }).fill("000 000");
  await stranger.getByRole("button", { name: "Open", exact: true }).click();
  await expect(stranger.getByRole("alert")).toHaveText(/not right, or too old/);
  await stranger.getByLabel("Code", { exact: true }).fill(await mailedCode(post, address));
  await stranger.getByRole("button", { name: "Open", exact: true }).click();
  await expect(stranger.getByRole("heading", { name: "How the ridge vent closes" })).toBeVisible();

  // The link was passed on: closed, and nobody else is harmed by that.
  await openDialog(page);
  await page.getByRole("button", { name: /^Close the personal link of Hester Quill/ }).click();
  await expect(dialog(page).getByText(/mailed today/)).toHaveCount(0);
  await hester.reload();
  await expect(nothing(hester)).toBeVisible();
  await hester.goto(personal);
  await expect(nothing(hester)).toBeVisible();
  for (const other of [post, stranger, hester]) await other.context().close();
});

test("a password, dates, comments, a short link, a new link; and a look as a stranger would have", async ({
  page,
  browser,
  context,
}) => {
  await signUp(page);
  const { link } = await sharedTake(page, 8);
  await page.goto(link);
  // Pasted somewhere, the link says what it is about as long as anybody may see that.
  const stranger = await another(browser);
  const card = async () => {
    const html = await (await stranger.request.get(link)).text();
    return Object.fromEntries(
      [...html.matchAll(/<meta property="og:(\w+)" content="([^"]*)"/g)].map((m) => m.slice(1)),
    );
  };
  const poster = `${link}/poster.jpg`;
  await expect.poll(card).toMatchObject({ title: "How the ridge vent closes", url: link, image: poster });
  expect((await stranger.request.get(poster)).headers()["content-type"]).toBe("image/jpeg");
  await openDialog(page);
  await dialog(page)
    .getByRole("button", { name: /^Password/ })
    .click();
  await page.getByRole("textbox", { name: "Password" }).fill("third bay");
  await page.getByRole("button", { name: "Set", exact: true }).click();
  await expect(dialog(page).getByRole("button", { name: "Password: with a password" })).toBeVisible();
  await dialog(page)
    .getByRole("button", { name: /^Until when/ })
    .click();
  await page.getByRole("button", { name: "tonight" }).click();
  await choose(page, /^May they comment/, "may not comment");
  await choose(page, /^Are guests asked/, /without a name/);
  await page.getByRole("button", { name: "Make a short link" }).click();
  await page.getByRole("button", { name: "Copy the short link" }).click();
  const short = await page.evaluate(() => navigator.clipboard.readText());
  expect(short).toMatch(/\/s\/[2-9a-z]{8}$/);
  expect(await card()).toEqual({ site_name: "Clear Nod", title: "Clear Nod" });
  await page.getByRole("button", { name: "QR code" }).click();
  await expect(dialog(page).getByRole("img", { name: `QR code of ${short}` })).toBeVisible();
  const [printed] = await Promise.all([
    page.waitForEvent("download"),
    page.getByRole("button", { name: "Save it as a picture" }).click(),
  ]);
  const drawn = sharp(await printed.path())
    .resize(600, 600, { kernel: "nearest" })
    .ensureAlpha()
    .raw();
  expect(jsQR(new Uint8ClampedArray(await drawn.toBuffer()), 600, 600)?.data).toBe(short);

  const looking = context.waitForEvent("page");
  await page.getByRole("link", { name: "Look as a stranger" }).click();
  const look = await looking;
  await expect(look.getByText("You look at this as a stranger would")).toBeVisible();
  await expect(look.getByRole("heading", { name: "A password is asked for" })).toBeVisible();
  await expect(look.getByRole("link", { name: "Sign in" })).toBeVisible();
  // Who is here is known all the same, for when there is no connection.
  expect(await look.evaluate(() => localStorage.getItem("clear-nod-who"))).not.toBeNull();
  await look.close();
  await page.getByRole("button", { name: "Done" }).click();
  await expect(
    page.getByRole("button", { name: "Anyone with the link, until today 23:59, with a password, without comments" }),
  ).toBeVisible();

  const guest = await another(browser);
  expect((await guest.goto(short))!.status()).toBe(403);
  await sound(guest, "a password is asked for");
  await guest.getByRole("textbox", { name: "Password" }).fill("fourth bay");
  await guest.getByRole("button", { name: "Open" }).click();
  await expect(guest.getByRole("alert")).toHaveText(/not the password/);
  await guest.getByRole("textbox", { name: "Password" }).fill("third bay");
  await guest.getByRole("button", { name: "Open" }).click();
  await expect(guest.getByRole("heading", { name: "How the ridge vent closes" })).toBeVisible();
  await expect(guest.getByText("No comments are taken here.")).toBeVisible();
  await expect(guest.getByLabel("Comment at this moment")).toHaveCount(0);
  await guest.getByRole("button", { name: "Got it" }).click();
  await expect(guest.getByRole("button", { name: /Got it at/ }).first()).toBeVisible();

  // It ends while it is open: the page is told, and nothing more of it can be had.
  await openDialog(page);
  await dialog(page)
    .getByRole("button", { name: /^Until when/ })
    .click();
  await page.getByLabel("It closes").fill("2026-01-02T03:04");
  await page.getByRole("button", { name: "Set", exact: true }).click();
  await expect(dialog(page).getByRole("button", { name: "Until when: until 2 January 3:04" })).toBeVisible();
  expect((await guest.request.get(`${link}/r1/main.m3u8`)).status()).toBe(404);
  expect((await guest.reload())!.status()).toBe(410);
  await expect(guest.getByText("It was open until 2 January 3:04.")).toBeVisible();

  await dialog(page)
    .getByRole("button", { name: /^Until when/ })
    .click();
  await page.getByRole("button", { name: "for ever" }).click();
  await page.getByRole("button", { name: "Make a new link" }).click();
  await page.getByRole("button", { name: "Make it", exact: true }).click();
  await expect.poll(() => page.url()).not.toBe(link);
  const next = page.url();
  expect((await guest.goto(link))!.status()).toBe(410);
  await expect(guest.getByRole("heading", { name: "This link was replaced" })).toBeVisible();
  expect((await guest.goto(short))!.status()).toBe(404);
  expect((await guest.goto(next))!.status()).toBe(200);
  await guest.context().close();
});

test("before others see it, its sender looks at what stood on the screen, and notes who agrees", async ({ page }) => {
  await signUp(page);
  const { link } = await sharedTake(page, 6, "Ridge vent");
  await page.goto(link);
  const open = async () => {
    await page.getByTitle("Change who can open it").click();
    await fold(page, "Before others see it").click();
  };
  await open();
  const pictures = page.getByRole("list", { name: "What stands on the screen" }).getByRole("link");
  await expect(pictures.first()).toHaveAccessibleName("What stands there at 0:00");
  await expect(page.getByText(/^The screen (stays the same|changes (once|\d+ times))\. Look whether/)).toBeVisible();
  const form = page.getByRole("form", { name: "Who else is seen or heard" });
  await expect(form.getByLabel("They agree that others see it")).toBeDisabled();
  await form.getByLabel("Who else is seen or heard").fill("Hester Quill");
  await form.getByLabel("They agree that others see it").check();
  await sound(page, "before others see it");
  await form.getByRole("button", { name: "Note it" }).click();
  await expect(form.getByRole("status")).toHaveText("Noted.");
  await expect(fold(page, "Before others see it")).toContainText("Hester Quill: they agree");
  await page.reload();
  await open();
  await expect(form.getByLabel("They agree that others see it")).toBeChecked();
  await pictures.first().click();
  await expect(page).toHaveURL(/#t=0$/);
});
