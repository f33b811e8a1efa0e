import type { Page } from "@playwright/test";
import { expect, test } from "./test";
import { tellNow } from "./minutes";
import { another, commentAsGuest, sharedTake, signUp, sound } from "./steps";

/** The newest letter to an address with these words in its subject, without waiting for the minute that gathers. */
async function letterTo(post: Page, dataDir: string, address: string, subject: string | RegExp) {
  const letter = post
    .getByRole("article")
    .filter({ hasText: address })
    .filter({ has: post.getByRole("heading", { name: subject }) });
  await expect(async () => {
    await tellNow(dataDir, address);
    await post.goto("/post");
    await expect(letter.first()).toBeVisible({ timeout: 5_000 });
  }).toPass();
  return letter.first().frameLocator("iframe");
}

test("a client is mailed what is new in their folder, its sender what was said there, each once and as they want it", async ({
  page,
  browser,
  dataDir,
}) => {
  const email = await signUp(page);
  const { link } = await sharedTake(page, 4, "Lead flashing");
  const ida = await another(browser);
  await commentAsGuest(ida, link, "Which side goes under?", "Ida Crake");
  await page.goto("/library");
  await page.getByRole("button", { name: "New folder" }).click();
  await page.getByLabel("Its name").fill("Bay C");
  await page.getByRole("button", { name: "Make it" }).click();
  await expect(page.getByRole("heading", { level: 1, name: "Bay C" })).toBeVisible();
  const address = `hester${Date.now()}@quill.example`;
  await page.getByLabel("Let people in").fill(`Hester Quill <${address}>`);
  await page.getByRole("button", { name: "Let them in" }).click();
  await expect(page.getByRole("listitem", { name: "Hester Quill" })).toBeVisible();
  await page.goto("/library");
  await page.getByRole("checkbox", { name: "Choose Lead flashing" }).check();
  await page.getByRole("button", { name: "Move to a folder" }).click();
  await page.getByRole("dialog").getByRole("radio", { name: "Bay C" }).check();
  await page.getByRole("dialog").getByRole("button", { name: "Move", exact: true }).click();
  await expect(page.getByRole("dialog")).toHaveCount(0);

  const post = await another(browser);
  await signUp(post, "Whoever Looks");
  const news = await letterTo(post, dataDir, address, "New in “Bay C”: Lead flashing");
  const hester = await another(browser);
  await hester.goto((await news.getByRole("link", { name: "Lead flashing" }).getAttribute("href"))!);
  expect(hester.url()).toBe(link);
  await expect(hester.getByRole("heading", { name: "Lead flashing" })).toBeVisible();

  // On their own page they choose when they are mailed.
  await hester.goto((await news.getByRole("link", { name: "Open the folder" }).getAttribute("href"))!);
  await hester.getByRole("combobox", { name: "Mail me what is new here" }).click();
  await hester.getByRole("option", { name: "Once a week" }).click();
  await expect(hester.getByText("Kept.")).toBeVisible();
  await sound(hester, "a folder as its client sees it");
  await hester.reload();
  await expect(hester.getByRole("combobox", { name: "Mail me what is new here" })).toHaveText("Once a week");

  // Or with one press, from any letter.
  await hester.goto((await news.getByRole("link", { name: "No more mail like this" }).getAttribute("href"))!);
  await hester.getByRole("button", { name: "No more mail" }).click();
  await expect(hester.getByText(`No news is mailed to ${address}.`)).toBeVisible();

  const said = await letterTo(post, dataDir, email, "Ida Crake comments: Lead flashing");
  await expect(said.getByText(/Which side goes under/)).toBeVisible();
  await expect(post.getByRole("article").filter({ hasText: address }).filter({ hasText: "Lead flashing" })).toHaveCount(
    1,
  );
});

test("who has not answered is reminded; how one is told is chosen, and kept", async ({ page, browser, dataDir }) => {
  await signUp(page);
  const { link } = await sharedTake(page, 4);
  await page.goto(link);
  await page.getByRole("button", { name: "Ask for a nod or an answer" }).click();
  const form = page.getByRole("form", { name: "What you ask" });
  await form.getByRole("combobox", { name: "What do you need back?" }).click();
  await page.getByRole("option", { name: "A nod" }).click();
  await form.getByLabel(/^Needed by/).fill("2031-05-06");
  await form.getByLabel("Remind those who have not answered, the day before").check();
  await form.getByRole("button", { name: "Ask", exact: true }).click();
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await page.getByRole("tab", { name: "People" }).click();
  const address = `tom${Date.now()}@crake.example`;
  await page.getByLabel("Whom do you ask?").fill(`Tom Crake <${address}>`);
  await page.getByRole("button", { name: "Add", exact: true }).click();
  await expect(page.getByText("1 has not answered.")).toBeVisible();
  await page.getByRole("button", { name: "Remind them" }).click();
  await expect(page.getByText("1 was reminded.")).toBeVisible();
  await sound(page, "people who were reminded");
  await page.getByRole("button", { name: "Remind them" }).click();
  await expect(page.getByText("was reminded within the last day")).toBeVisible();
  await page.getByRole("button", { name: "Change what you ask" }).click();
  await expect(form.getByLabel("Remind those who have not answered, the day before")).toBeChecked();
  await page.keyboard.press("Escape");

  const post = await another(browser);
  await signUp(post, "Whoever Looks");
  const letter = await letterTo(post, dataDir, address, "Not answered yet: How the ridge vent closes");
  await expect(letter.getByText(/which is needed by Tuesday,? 6 May/)).toBeVisible();
  const tom = await another(browser);
  await tom.goto((await letter.getByRole("link", { name: "Watch and answer" }).getAttribute("href"))!);
  // The page may still find its letters and its place: only then does a press stay where it began.
  await expect(tom.getByRole("button", { name: "Thanks" })).toBeEnabled();
  await tom.getByRole("button", { name: "Nod: it is clear" }).click();
  await expect(tom.getByText("Your answer:")).toBeVisible();
  await expect(page.getByText("1 has not answered.")).toHaveCount(0);

  await page.goto("/answers");
  await page.getByRole("link", { name: "How you are told" }).click();
  const reactions = page.getByRole("checkbox", { name: "Other reactions, in Answers" });
  await reactions.check();
  await page.getByRole("listitem").filter({ hasText: "Nods and answers" }).getByRole("combobox").click();
  await page.getByRole("option", { name: "Once a week" }).click();
  await page.getByLabel("Quiet hours, in which nothing comes").check();
  await page.getByRole("button", { name: "Keep it so" }).click();
  await expect(page.getByText("Kept. You are told so from now on.")).toBeVisible();
  await sound(page, "how one is told");
  await page.reload();
  await expect(page.getByText("quiet from 20:00 to 07:00")).toBeVisible();
  await expect(reactions).toBeChecked();
  // What was chosen stands in Answers from then on.
  await tom.getByRole("button", { name: "Thanks" }).click();
  await expect(async () => {
    await page.goto("/answers");
    await expect(page.getByRole("heading", { name: /^Reaction from/ })).toBeVisible({ timeout: 1_000 });
  }).toPass({ timeout: 30_000 });
});
