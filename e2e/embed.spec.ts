import type { FrameLocator, Page } from "@playwright/test";
import { expect, test } from "./test";
import { hasFirefox, inFirefox } from "./firefox";
import { accessible, another, fold, sharedTake, signUp, sound } from "./steps";

const TITLE = "How the ridge vent closes";
/** The sample's course page: another site, for a browser as well. */
const courseOf = (baseURL: string) => `http://127.0.0.1:${Number(new URL(baseURL).port) + 1}`;

/** A recording of twelve seconds that asks for a nod, in a workspace that trusts these sites. */
async function asking(page: Page, ...sites: string[]): Promise<{ link: string; recordingId: string }> {
  await signUp(page);
  const made = await sharedTake(page, 12, TITLE);
  const ask = JSON.stringify({ kind: "nod", question: "", choices: [] });
  const post = async (path: string, form: Record<string, string>) =>
    expect((await page.request.post(path, { form })).status()).toBe(200);
  await post(`/recordings/${made.recordingId}`, { do: "ask", ask, version: "0" });
  for (const site of sites) await post("/workspace.data", { do: "trust-site", site });
  return made;
}

/** A button, for what drives Firefox. */
const button = (words: string) => `::-p-xpath(//button[contains(., "${words}")])`;

/** What was put into the course's page last. */
const last = (course: Page): FrameLocator => course.frameLocator("iframe >> nth=-1");

async function putIn(course: Page, what: string) {
  await course.getByLabel("Put a recording into this page").fill(what);
  await course.getByRole("button", { name: "Put it in" }).click();
}

test("a recording plays in the page of a course, where students nod and comment, and is seen to be theirs", async ({
  page,
  browser,
  baseURL,
}) => {
  const site = courseOf(baseURL!);
  const { link } = await asking(page);
  const dialog = page.getByRole("dialog", { name: "Who can open it" });
  await page.goto(link);
  await page.getByTitle("Change who can open it").click();
  await fold(page, "Put it into a page").click();
  await expect(dialog.getByText("There are none yet")).toBeVisible();
  await dialog.getByRole("link", { name: "page of the workspace" }).click();
  await fold(page, "Sites that may show recordings").click();
  const name = page.getByLabel("Address of the site");
  await name.fill("https://*");
  await page.getByRole("button", { name: "Trust it" }).click();
  await expect(page.getByRole("alert")).toContainText("This is no address of a site");
  await name.fill(`${site}/week/3`);
  await page.getByRole("button", { name: "Trust it" }).click();
  await expect(page.getByRole("list", { name: "Sites" }).getByText(site, { exact: true })).toBeVisible();
  await sound(page, "sites that may show recordings");

  await page.goto(link);
  await page.getByTitle("Change who can open it").click();
  await fold(page, "Put it into a page").click();
  await dialog.getByRole("combobox", { name: "How wide" }).click();
  await page.getByRole("option", { name: /Small/ }).click();
  await dialog.getByLabel("Begins at").fill("0:02");
  await dialog.getByLabel("Stops at").fill("1");
  await expect(dialog.getByText("Moments are like 1:05")).toBeVisible();
  await dialog.getByLabel("Stops at").fill("4");
  await dialog.getByLabel("Comments can be read and written").check();
  await dialog.getByRole("button", { name: "Copy the HTML" }).click();
  const html = await page.evaluate(() => navigator.clipboard.readText());

  const student = await another(browser);
  await student.goto(site);
  await putIn(student, html);
  const frame = last(student);
  await expect(frame.getByRole("button", { name: "Answer" })).toBeVisible();
  await accessible(student, "a page with a recording in it");
  await frame.getByRole("button", { name: "Go on at 0:02" }).click();
  // It stops where it was asked to.
  await expect(frame.getByRole("button", { name: "Play", exact: true })).toBeVisible({ timeout: 30_000 });
  const time = () =>
    student
      .frames()
      .at(-1)!
      .evaluate(() => window.clearNodPlayer!.snapshot().time / 1e6);
  expect(await time()).toBeGreaterThanOrEqual(4);
  expect(await time()).toBeLessThan(8);

  await frame.getByRole("button", { name: "Answer" }).click();
  await frame.getByRole("button", { name: "Nod: it is clear" }).click();
  await frame.getByLabel("Your name").fill("Tove Reed");
  await frame.getByRole("button", { name: "Go on" }).click();
  await expect(frame.getByText("Your answer: Nodded")).toBeVisible();
  await frame.getByRole("button", { name: "Close" }).click();
  await frame.getByRole("button", { name: "Comments" }).click();
  await frame.getByPlaceholder("Comment at this moment").fill("Which screw?");
  await frame.getByRole("button", { name: "Comment", exact: true }).click();
  await expect(frame.getByRole("list", { name: "Comments in order of time" }).getByText("Which screw?")).toBeVisible();
  // Loaded anew, it is the same student.
  await student.reload();
  await expect(last(student).getByRole("button", { name: "Your answer" })).toBeVisible();
  await last(student).getByRole("button", { name: "Seen as" }).click();
  await expect(last(student).getByText("as Tove Reed")).toBeVisible();

  await page.goto(link);
  await expect(page.getByText("Which screw?")).toBeVisible();
  await page.getByRole("tab", { name: "People" }).click();
  await expect(page.getByText("Tove Reed").first()).toBeVisible();
  // The one who sent it is nobody there: who frames a page cannot make them do anything.
  await page.goto(site);
  await expect(last(page).getByRole("button", { name: "Answer" })).toBeVisible();
});

test("what is embedded asks for its password; nobody else's page shows it, and what is for some is for none there", async ({
  page,
  browser,
  baseURL,
}) => {
  const site = courseOf(baseURL!);
  const { link, recordingId } = await asking(page, site);
  const share = async (form: Record<string, string>) =>
    expect((await page.request.post(`/recordings/${recordingId}`, { form: { do: "share", ...form } })).status()).toBe(
      200,
    );
  const student = await another(browser);
  await student.goto(site);
  // A page that is given a link asks what it is.
  await putIn(student, link);
  await expect(last(student).getByRole("button", { name: /^Play,/ })).toBeVisible();
  await expect(student.locator("iframe").last()).toHaveAttribute("title", TITLE);

  await share({ password: "third bay" });
  await student.reload();
  await last(student).getByLabel("Password", { exact: true }).fill("fourth bay");
  await last(student).getByRole("button", { name: "Open" }).click();
  await expect(last(student).getByRole("alert")).toBeVisible();
  await last(student).getByLabel("Password", { exact: true }).fill("third bay");
  await last(student).getByRole("button", { name: "Open" }).click();
  await last(student)
    .getByRole("button", { name: /^Play,/ })
    .click();
  const time = () =>
    student
      .frames()
      .at(-1)!
      .evaluate(() => window.clearNodPlayer?.snapshot().time ?? 0);
  await expect.poll(time, { timeout: 30_000 }).toBeGreaterThan(1e6);
  // It was told there alone: at its link the same browser is asked.
  await student.goto(link);
  await expect(student.getByRole("heading", { name: "A password is asked for" })).toBeVisible();

  await share({ password: "", audience: "workspace" });
  const embed = link.replace("/w/", "/e/");
  for (const address of [embed, embed.replace(/[^/]+$/, "A".repeat(22))]) {
    const answer = await page.request.get(address);
    expect(answer.status()).toBe(404);
    expect(answer.headers()["content-security-policy"]).toContain("frame-ancestors *");
  }
  // Signed in, and its sender: not there.
  await page.goto(site);
  await expect(last(page).getByRole("heading", { name: "Nothing here plays for everybody" })).toBeVisible();

  await share({ audience: "anyone" });
  const form = { do: "drop-site", site };
  expect((await page.request.post("/workspace.data", { form })).status()).toBe(200);
  const answer = await page.request.get(embed);
  expect(answer.headers()["content-security-policy"]).toMatch(/frame-ancestors 'self'$/);
  expect(answer.headers()["x-frame-options"]).toBeUndefined();
  expect((await page.request.get(link)).headers()["x-frame-options"]).toBe("DENY");
  await page.goto(site);
  await expect(page.locator("iframe").last()).toBeVisible();
  await expect.poll(() => page.frames().at(-1)!.url()).toMatch(/^chrome-error:/);
});

test("programs are told of a link what anybody may see, and nothing of the rest (oEmbed)", async ({
  page,
  baseURL,
  request,
}) => {
  const { link, recordingId } = await asking(page, courseOf(baseURL!));
  const html = await (await request.get(link)).text();
  const [href] = /(?<=type="application\/json\+oembed" href=")[^"]+/.exec(html)!;
  const told = await request.get(href.replaceAll("&amp;", "&"));
  expect(await told.json()).toMatchObject({ version: "1.0", type: "video", title: TITLE, author_name: "Orla Fenn" });
  expect(told.headers()).toMatchObject({ "access-control-allow-origin": "*" });
  const ask = (of: string, more: Record<string, string> = {}) =>
    request.get("/oembed", { params: { url: of, ...more } });
  const xml = await ask(link, { format: "xml", maxwidth: "400", maxheight: "300" });
  expect(xml.headers()["content-type"]).toBe("text/xml; charset=utf-8");
  const text = await xml.text();
  const [width, height] = ["width", "height"].map((side) => Number(new RegExp(`<${side}>(\\d+)<`).exec(text)![1]));
  expect(width).toBeLessThanOrEqual(400);
  expect(height).toBeLessThanOrEqual(300);
  for (const [of, more, status] of [
    [link, { format: "yaml" }, 501],
    [link, { maxwidth: "-3" }, 400],
    ["", {}, 400],
    ["javascript:alert(1)", {}, 400],
    ["http://%", {}, 400],
    ["https://elsewhere.example/w/AAAAAAAAAAAAAAAAAAAAAA", {}, 404],
    [link.slice(0, -1), {}, 404],
    [`${baseURL}/s/aaaaaaaa`, {}, 404],
    [`${baseURL}/library`, {}, 404],
  ] as [string, Record<string, string>, number][])
    expect((await ask(of, more)).status(), `${of} ${JSON.stringify(more)}`).toBe(status);
  for (const made of ["__proto__", "constructor", "x"])
    expect((await page.request.get(`/recordings/${recordingId}/looks/1/${made}`)).status(), made).toBe(404);
  const change = { form: { do: "share", password: "third bay" } };
  expect((await page.request.post(`/recordings/${recordingId}`, change)).status()).toBe(200);
  const [locked, nowhere] = await Promise.all([ask(link), ask(link.slice(0, -4) + "AAAA")]);
  expect([locked.status(), await locked.text()]).toEqual([404, await nowhere.text()]);
  expect(await (await request.get(link)).text()).not.toContain("oembed");
});

if (hasFirefox)
  test("in Firefox as well a recording plays in a page of another site, and is answered there", async ({
    page,
    baseURL,
  }) => {
    const site = courseOf(baseURL!);
    const { link } = await asking(page, site);
    await inFirefox(async (student) => {
      await student.goto(site);
      await student.type("#what", link);
      await Promise.all([student.waitForNavigation(), student.click('form[action="/add"] button')]);
      const frame = await (await student.waitForSelector("iframe:last-of-type"))!.contentFrame();
      await frame.waitForSelector(button("Play, 0:12"));
      await frame.click(button("Play, 0:12"));
      await frame.waitForFunction(() => (window.clearNodPlayer?.snapshot().time ?? 0) > 1_000_000);
      await frame.click(button("Answer"));
      await frame.click(button("Nod: it is clear"));
      await (await frame.waitForSelector('input[autocomplete="name"]'))!.type("Tove Reed");
      await frame.click(button("Go on"));
      await frame.waitForFunction(() => document.body.innerText.includes("Your answer: "));
      // Loaded anew, it is the same student.
      await student.reload();
      const again = await (await student.waitForSelector("iframe:last-of-type"))!.contentFrame();
      await again.waitForSelector(button("Your answer"));
    });
    await page.goto(link);
    await page.getByRole("tab", { name: "People" }).click();
    await expect(page.getByText("Tove Reed").first()).toBeVisible();
  });
