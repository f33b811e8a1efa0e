import { expect, test } from "./test";
import { sharedTake, signUp, sound } from "./steps";

test("what was changed in another window is told, and never replaced unseen", async ({ page, context }) => {
  await signUp(page);
  const { link } = await sharedTake(page, 3, "How the vent closes");
  await page.goto(link);
  const other = await context.newPage();
  await other.goto(link);

  // Both change the title; the second one is told what it is now, and keeps what it wrote in sight.
  const title = async (window: typeof page, text: string) => {
    await window.getByRole("textbox", { name: "Title", exact: true }).fill(text);
    await window.getByRole("textbox", { name: "Title", exact: true }).press("Enter");
  };
  for (const window of [page, other]) await window.getByRole("button", { name: /^Change the title/ }).click();
  await title(page, "How the ridge vent closes");
  await expect(page.getByRole("heading", { name: "How the ridge vent closes" })).toBeVisible();
  await title(other, "Closing the vent");
  await expect(other.getByText(/not changed to “Closing the vent”.*to “How the ridge vent closes”/)).toBeVisible();
  await expect(other.getByRole("heading", { name: "How the ridge vent closes" })).toBeVisible();

  // Both ask; the second dialog stays with its words, and asks again knowingly.
  const ask = async (window: typeof page, question: string) => {
    const dialog = window.getByRole("dialog");
    await dialog.getByLabel("What do you need back?").click();
    await window.getByRole("option", { name: "An answer in words" }).click();
    await dialog.getByRole("textbox", { name: "Question" }).fill(question);
    await dialog.getByRole("button", { name: "Ask", exact: true }).click();
  };
  for (const window of [page, other]) await window.getByRole("button", { name: "Ask for a nod or an answer" }).click();
  await ask(page, "Which pane first?");
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await ask(other, "Which bead first?");
  await expect(other.getByRole("alert")).toContainText("changed in another window meanwhile, to “Which pane first?”");
  await expect(other.getByRole("textbox", { name: "Question" })).toHaveValue("Which bead first?");
  await sound(other, "an ask that was changed meanwhile");
  await other.getByRole("button", { name: "Ask", exact: true }).click();
  await expect(other.getByRole("dialog")).toHaveCount(0);
  await expect(page.getByText("Which bead first?").first()).toBeVisible();
});
