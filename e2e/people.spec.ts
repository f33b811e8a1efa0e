import { expect, test } from "./test";
import { recordedSeconds, signUp, sound, startRecording, stopAndOpen } from "./steps";

test("a colleague joins by a link, sees what is shared, and leaves what they made behind", async ({
  page,
  browser,
}) => {
  await signUp(page);
  await startRecording(page, "Voice", "anyone");
  await recordedSeconds(page, 2);
  await stopAndOpen(page);

  await page.getByRole("button", { name: "Fenn & Lark Glasshouses, workspace" }).click();
  await page.getByRole("menuitem", { name: "People and links to join" }).click();
  await page.getByRole("button", { name: "Make a link to join" }).click();
  await page.getByRole("button", { name: "Copy" }).click();
  const link = await page.evaluate(() => navigator.clipboard.readText());
  await sound(page, "people of a workspace");

  const theirs = await browser.newContext({ permissions: ["camera", "microphone"] });
  const colleague = await theirs.newPage();
  await colleague.goto(link);
  await expect(colleague.getByText("Orla Fenn made this link.")).toBeVisible();
  await sound(colleague, "a link to join");
  await colleague.getByRole("link", { name: "Make an account" }).click();
  await colleague.getByLabel("Your name").fill("Wren Thistle");
  await colleague.getByLabel("E-mail address").fill(`wren${Date.now()}@glasshouse.test`);
  await colleague.getByLabel("Password").fill("ridge-vent-and-putty");
  await colleague.getByRole("button", { name: "Join" }).click();
  await expect(colleague.getByRole("heading", { name: "From colleagues" })).toBeVisible();
  await expect(colleague.getByRole("listitem")).toHaveCount(1);
  await startRecording(colleague, "Voice");
  await recordedSeconds(colleague, 2);
  await stopAndOpen(colleague);
  // A member sees who is there, and lets nobody in.
  await colleague.goto("/workspace");
  await expect(colleague.getByRole("listitem", { name: "Orla Fenn" })).toContainText("Owner");
  await expect(colleague.getByRole("button", { name: "Make a link to join" })).toHaveCount(0);

  await page.reload();
  await page.getByRole("button", { name: "Remove Wren Thistle" }).click();
  await sound(page, "removing somebody");
  await page.getByRole("dialog").getByRole("button", { name: "Remove", exact: true }).click();
  // What is behind a dialog cannot be reached: first it goes, when the server has answered.
  await expect(page.getByRole("dialog")).toHaveCount(0);
  await expect(page.getByRole("listitem", { name: "Wren Thistle" })).toHaveCount(0);
  await page.goto("/library");
  await expect(page.getByRole("listitem")).toHaveCount(2);
  // They have a workspace of their own now, with nothing in it, and start another beside it.
  await colleague.goto("/library");
  await expect(colleague.getByRole("heading", { name: "Your library is empty" })).toBeVisible();
  await colleague.goto("/workspace");
  await colleague.getByText("Start another workspace").click();
  await colleague.getByLabel("Its name").fill("Thistle Survey");
  await colleague.getByRole("button", { name: "Start", exact: true }).click();
  await expect(colleague.getByRole("heading", { level: 1, name: "Thistle Survey" })).toBeVisible();
  await colleague.getByRole("button", { name: "Thistle Survey, workspace" }).click();
  await colleague.getByRole("menuitemradio", { name: "Wren Thistle's workspace" }).click();
  await expect(colleague.getByRole("button", { name: "Wren Thistle's workspace, workspace" })).toBeVisible();

  await page.goto("/workspace");
  await page.getByRole("button", { name: "Close this link" }).click();
  await expect(page.getByRole("list", { name: "Open links" })).toHaveCount(0);
  await colleague.goto(link);
  await expect(colleague.getByText("does not lead into a workspace any more")).toBeVisible();
  await theirs.close();
});
