import { expect, test } from "./test";
import { databaseOf } from "./database";
import { fold, putTake, signUp, sound } from "./steps";

const TITLE = "How the ridge vent closes";

test("what nobody uses is told of before it goes, and stays where its sender wants it to", async ({
  page,
  dataDir,
}) => {
  await signUp(page);
  const { link, recordingId } = await putTake(page, 4, { source: "voice", title: TITLE });
  await putTake(page, 4, { source: "voice", title: "How the sill is sealed" });
  const database = await databaseOf(dataDir);
  try {
    const age = "now() - interval '100 days'";
    await database.query(`update recordings set created_at = ${age}, used_at = ${age} where id = $1`, [recordingId]);
    await database.query(`update revisions set published_at = ${age} where recording_id = $1`, [recordingId]);
  } finally {
    await database.end();
  }

  await page.goto("/workspace");
  await page.getByLabel("Recordings that nobody uses").click();
  await page.getByRole("option", { name: "Go after three months" }).click();
  await expect(page.getByText(/^What nobody opens or changes for three months is deleted/)).toBeVisible();
  await sound(page, "how long recordings stay");

  // Its sender is told: in the library, in what waits for them, and at the recording.
  const row = page.getByRole("listitem").filter({ hasText: TITLE });
  await expect(async () => {
    await page.goto("/library");
    await expect(row.getByText(/^Not used, goes after/)).toBeVisible({ timeout: 2_000 });
  }).toPass();
  await expect(page.getByText(/^Not used, goes after/)).toHaveCount(1);
  await sound(page, "a library in which something goes");
  await page.goto("/workspace");
  await expect(page.getByText("One recording goes within 15 days, and its sender is told.")).toBeVisible();
  await page.goto("/answers");
  await expect(page.getByRole("listitem").filter({ hasText: "It goes soon" })).toContainText(
    /Nobody has used it for a long time\. It stays until \d+ \w+/,
  );
  await sound(page, "told that something goes");
  await page.goto("/account");
  await fold(page, "How you are told").click();
  await expect(page.getByText("A recording that nobody uses goes soon")).toBeVisible();

  await page.goto(link);
  await expect(page.getByRole("alert").filter({ hasText: "Nobody has used it" })).toBeVisible();
  await sound(page, "a recording that goes");
  await page.getByRole("button", { name: "Let it stay" }).click();
  await expect(page.getByRole("button", { name: "Let it stay" })).toHaveCount(0);

  await page.goto("/library");
  await expect(page.getByText(/^Not used, goes after/)).toHaveCount(0);
  await row.getByRole("button", { name: `More for ${TITLE}` }).click();
  await page.getByRole("menuitem", { name: "Let it go when nobody uses it" }).click();
  await row.getByRole("button", { name: `More for ${TITLE}` }).click();
  await expect(page.getByRole("menuitem", { name: "Let it stay, used or not" })).toBeVisible();
  await page.goto("/answers");
  await expect(page.getByText("It goes soon")).toHaveCount(0);
});
