import { request, type Page } from "@playwright/test";
import {
  another,
  colleagueOf,
  fold,
  mailedCode,
  mailedCodes,
  phase,
  putTake,
  recordedSeconds,
  sharedTake,
  signUp,
  signUpByForm,
  sound,
  stopAndOpen,
} from "./steps";
import { expect, test } from "./test";

const row = (page: Page, title: string) => page.getByRole("listitem").filter({ hasText: title });

test("recordings are put into a folder, by hand and by keys, and a client sees that folder and nothing else", async ({
  page,
  browser,
}) => {
  await signUp(page);
  await sharedTake(page, 4, "How the ridge vent closes");
  await putTake(page, 4, { source: "voice", title: "Oil for the hinges" });
  const { link: other } = await putTake(page, 4, { source: "voice", title: "Not for clients", audience: "workspace" });
  await page.goto("/library");
  await page.getByRole("button", { name: "New folder" }).click();
  await page.getByLabel("Its name").fill("Orangery");
  await page.getByRole("button", { name: "Make it" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Orangery" })).toBeVisible();
  await expect(page.getByText("Nothing lies here yet.")).toBeVisible();
  const folder = page.url();
  await page.getByLabel("Let people in").fill("Ida Crake");
  await page.getByRole("button", { name: "Let them in" }).click();
  const ida = page.getByRole("listitem", { name: "Ida Crake" });
  await expect(ida).toContainText("may look");
  await sound(page, "an empty folder");

  // Dragged by its picture, and asked before anybody sees more.
  await page.getByRole("link", { name: "Library", exact: true }).last().click();
  const dialog = page.getByRole("dialog");
  const dragged = row(page, "How the ridge vent closes");
  await expect(async () => {
    const from = (await dragged.boundingBox())!;
    const to = (await page.getByRole("link", { name: "Orangery" }).boundingBox())!;
    await page.mouse.move(from.x + 60, from.y + 60);
    await page.mouse.down();
    await page.mouse.move(from.x + 90, from.y + 40, { steps: 4 });
    await page.mouse.move(to.x + to.width / 2, to.y + to.height / 2, { steps: 6 });
    await page.mouse.up();
    await expect(dialog).toBeVisible({ timeout: 2_000 });
  }).toPass({ timeout: 30_000 });
  await expect(dialog.getByRole("radio", { name: "Orangery" })).toBeChecked();
  await expect(dialog.getByText("Will see it: Ida Crake.")).toBeVisible();
  await sound(page, "a move");
  await dialog.getByRole("button", { name: "Move", exact: true }).click();
  await expect(dialog).toHaveCount(0);

  // By keys alone: chosen, moved, and the draft opened on the way.
  await page.getByRole("checkbox", { name: "Choose Oil for the hinges" }).focus();
  await page.keyboard.press("Space");
  await expect(page.getByText("1 chosen")).toBeVisible();
  await page.getByRole("button", { name: "Move to a folder" }).focus();
  await page.keyboard.press("Enter");
  await expect(dialog.getByRole("radio", { name: "Orangery" })).toBeVisible();
  await page.keyboard.type("oran");
  await page.keyboard.press("Tab");
  await page.keyboard.press("Space");
  await expect(dialog.getByRole("radio", { name: "Orangery" })).toBeChecked();
  await expect(dialog.getByText("The same people see it as now.")).toBeVisible();
  await page.keyboard.press("Tab");
  await page.keyboard.press("Space");
  await expect(dialog.getByText("Will see it: Ida Crake.")).toBeVisible();
  await page.keyboard.press("Tab");
  await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  await expect(dialog).toHaveCount(0);
  await page.goto(folder);
  await expect(row(page, "Oil for the hinges")).toContainText("Ready, the people of its folder");
  await ida.getByRole("button", { name: "Copy the personal link of Ida Crake" }).click();
  const personal = await page.evaluate(() => navigator.clipboard.readText());
  await sound(page, "a folder");

  const client = await another(browser);
  await client.goto(personal);
  await expect(client.getByRole("heading", { level: 1, name: "Orangery" })).toBeVisible();
  await expect(client.getByRole("listitem")).toHaveCount(2);
  await expect(client.getByRole("heading", { name: "Who sees this folder" })).toHaveCount(0);
  await fold(client, "In a feed reader").click();
  await client.getByRole("button", { name: "Make its address" }).click();
  const feed = (await client.getByRole("status").locator("code").textContent())!;
  const reader = await request.newContext();
  expect(await (await reader.get(feed)).text()).toContain("Oil for the hinges");
  await sound(client, "a folder as a client sees it");
  await client.getByRole("link", { name: "Oil for the hinges" }).click();
  await expect(client.getByRole("button", { name: /^Play, / })).toBeVisible();
  expect((await client.request.get(other)).status()).toBe(404);

  // A link that was passed on is closed: the folder, and everything that was open by it.
  await ida.getByRole("button", { name: "Close the personal link of Ida Crake, and make another one" }).click();
  await expect.poll(async () => (await client.request.get(folder)).status()).toBe(404);
  await client.reload();
  await expect(client.getByRole("heading", { name: "There is nothing here" })).toBeVisible();
  expect((await reader.get(feed)).status()).toBe(404);
  await reader.dispose();

  await page.getByText("This folder", { exact: true }).click();
  page.once("dialog", (question) => void question.accept());
  await page.getByRole("button", { name: "Take it away" }).click();
  await page.waitForURL(/library/);
  await expect(row(page, "Oil for the hinges")).toBeVisible();
  await client.context().close();
});

test("folders lie in one another, for colleagues as they are told, and a move says who loses sight", async ({
  page,
  browser,
}) => {
  await signUpByForm(page);
  const make = async (name: string) => {
    await page.getByRole("button", { name: "New folder" }).click();
    await page.getByLabel("Its name").fill(name);
    await page.getByRole("button", { name: "Make it" }).click();
    await expect(page.getByRole("heading", { level: 1, name })).toBeVisible();
  };
  await make("Roof");
  await make("Vents");
  const vents = page.url();
  await page.getByRole("navigation", { name: "Where this folder lies" }).getByRole("link", { name: "Roof" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Roof" })).toBeVisible();
  const choose = async (label: RegExp, option: string) => {
    await page.getByLabel(label).click();
    await page.getByRole("option", { name: option }).click();
  };
  await choose(/^Everybody of/, "may look");
  const colleague = await colleagueOf(page, await another(browser), "Wren Thistle");
  await colleague.getByRole("link", { name: "Roof" }).click();
  await colleague.getByRole("link", { name: "Vents" }).click();
  await expect(colleague.getByText("Nothing lies here yet that you can see.")).toBeVisible();
  await expect(colleague.getByRole("button", { name: "New folder" })).toHaveCount(0);

  const { recordingId } = await putTake(page, 4, { source: "voice", title: "Oil for the hinges" });
  const put = { do: "put", recordings: JSON.stringify([recordingId]), to: vents.split("/f/")[1]!, open: "true" };
  expect((await page.request.post("/folders", { form: put })).status()).toBe(200);
  await colleague.reload();
  await expect(row(colleague, "Oil for the hinges")).toBeVisible();

  // A feed reader has no cookie: the address alone opens it, as long as the folder is seen.
  await fold(colleague, "In a feed reader").click();
  await colleague.getByRole("button", { name: "Make its address" }).click();
  const feed = (await colleague.getByRole("status").locator("code").textContent())!;
  await sound(colleague, "a folder with a feed");
  const reader = await request.newContext();
  const first = await reader.get(feed);
  expect([first.status(), first.headers()["content-type"]]).toEqual([200, "application/atom+xml; charset=utf-8"]);
  expect(await first.text()).toContain("Oil for the hinges");
  const same = await reader.get(feed, { headers: { "if-none-match": first.headers().etag! } });
  expect(same.status()).toBe(304);
  await expect.poll(async () => (await reader.get(`${feed.slice(0, -1)}_`)).status()).toBe(404);

  await page.goto(vents);
  await expect(page.getByText("By a folder above everybody may look.")).toBeVisible();
  await page.getByText("This folder", { exact: true }).click();
  await page.getByRole("button", { name: "Move it into another folder" }).click();
  await page.getByRole("radio", { name: "In no folder" }).click();
  await expect(page.getByText("Will not see it any more: everybody of Fenn & Lark Glasshouses.")).toBeVisible();
  await page.getByRole("dialog").getByRole("button", { name: "Move", exact: true }).click();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await colleague.reload();
  await expect(colleague.getByRole("heading", { name: "There is nothing here" })).toBeVisible();
  expect((await reader.get(feed)).status()).toBe(404);
  await reader.dispose();
  await colleague.context().close();
});

test("a folder is chosen at the desk, kept in a set-up, and its people see what is recorded from the first second", async ({
  page,
  browser,
}) => {
  await signUp(page);
  for (const name of ["Alpine house", "Orangery"]) {
    const made = await page.request.post("/folders.data", { form: { do: "make", name, in: "" } });
    expect(made.status()).toBeLessThan(300);
  }
  const colleague = await colleagueOf(page, await another(browser), "Bram Lark");
  await page.goto("/library");
  await page.getByRole("link", { name: "Orangery" }).click();
  const folder = page.url();
  // A name is nobody's: the colleague is told by the address that they are known by, and is taken by that.
  await page.getByLabel("Let people in").fill("Bram Lark");
  await page.getByRole("button", { name: "Let them in" }).click();
  const told = await page.getByText(/A colleague is called Bram Lark. If you mean them, write/).textContent();
  await page.getByLabel("Let people in").fill(/write (\S+);/.exec(told!)![1]!);
  await page.getByRole("button", { name: "Let them in" }).click();
  await expect(page.getByRole("listitem", { name: "Bram Lark" })).toBeVisible();

  await page.goto("/record");
  await page.getByRole("button", { name: "Voice", exact: true }).click();
  await page.getByLabel("Who can open the link").click();
  await expect(page.getByRole("option", { name: /The folder's people/ })).toHaveCount(0);
  await page.keyboard.press("Escape");
  await fold(page, "Folder").click();
  await page.getByRole("combobox", { name: "Put it into" }).fill("oran");
  // What is pressed at once is what was written, also before the server has answered.
  await page.getByRole("option").first().click();
  await expect(fold(page, "Folder")).toContainText("Orangery");
  await page.getByLabel("Who can open the link").click();
  await page.getByRole("option", { name: /The folder's people/ }).click();
  await sound(page, "a folder at the desk");
  await fold(page, "Set-up").click();
  await page.getByLabel("Name", { exact: true }).fill("Weekly");
  await page.getByLabel("Start with it every time").check();
  await page.getByRole("button", { name: "Keep as a set-up" }).click();
  await expect(page.getByText("Kept.")).toBeVisible();
  // It is there again at the next visit, by the set-up alone.
  await page.evaluate(() => localStorage.removeItem("clear-nod-wishes"));
  await page.reload();
  await expect(fold(page, "Folder")).toContainText("Orangery");
  await page.getByRole("button", { name: "Record", exact: true }).click();
  await expect(phase(page)).toHaveAttribute("data-phase", "recording", { timeout: 20_000 });
  await recordedSeconds(page, 2);
  await colleague.goto(folder);
  await expect(colleague.getByRole("listitem").filter({ hasText: "Recording now" })).toBeVisible();
  await stopAndOpen(page);
  await expect(page.getByText("The people of “Orangery”")).toBeVisible();
});

test("a client who has lost their link shows by a code that the address is theirs, at the folder and at what lies in it", async ({
  page,
  browser,
}) => {
  await signUp(page);
  const { link } = await putTake(page, 4, { source: "voice", title: "Oil for the hinges", audience: "owner" });
  await page.goto("/library");
  await page.getByRole("button", { name: "New folder" }).click();
  await page.getByLabel("Its name").fill("Orangery");
  await page.getByRole("button", { name: "Make it" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Orangery" })).toBeVisible();
  const folder = page.url();
  const [address, eve] = ["ida", "eve"].map((who) => `${who}${Date.now()}@crake.example`) as [string, string];
  await page.getByLabel("Let people in").fill(`Ida Crake <${address}>`);
  await page.getByRole("button", { name: "Let them in" }).click();
  await expect(page.getByRole("listitem", { name: "Ida Crake" })).toBeVisible();
  await page.goto(link);
  const id = await page.locator("[data-recording]").getAttribute("data-recording");
  const put = { do: "put", recordings: JSON.stringify([id]), to: folder.split("/").at(-1)!, open: "true" };
  expect((await page.request.post("/folders.data", { form: put })).status()).toBe(200);

  for (const place of [folder, link]) {
    const client = await another(browser);
    expect((await client.goto(place))!.status()).toBe(404);
    // Nobody else gets a code there, and is told no more.
    await client.getByLabel("Your e-mail address").fill(eve);
    await client.getByRole("button", { name: "Mail me a code" }).click();
    await expect(client.getByText(`If it is for ${eve}, a code is on its way there.`)).toBeVisible();
    await client.reload();
    await client.getByLabel("Your e-mail address").fill(address);
    await client.getByRole("button", { name: "Mail me a code" }).click();
    await expect(client.getByText(`If it is for ${address}, a code is on its way there.`)).toBeVisible();
    // The one that opened the folder is used up: at the link it is another one.
    await client.getByLabel("Code", { exact: true }).fill(await mailedCode(page, address, place === folder ? 1 : 2));
    await client.getByRole("button", { name: "Open", exact: true }).click();
    await expect(client.getByRole("heading", { level: 1, name: place === folder ? "Orangery" : /Oil/ })).toBeVisible();
    await client.context().close();
  }
  expect(await mailedCodes(page, eve)).toEqual([]);
});
