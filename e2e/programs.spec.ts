import { createServer, type IncomingHttpHeaders } from "node:http";
import { request } from "@playwright/test";
import { Webhook } from "standardwebhooks";
import { expect, test } from "./test";
import { runJob } from "./minutes";
import { fold, PASSWORD, sharedTake, signUp, sound } from "./steps";

test("a program acts for somebody by a secret, within what was ticked, until it is ended", async ({
  page,
  baseURL,
}) => {
  await signUp(page);
  const { link, recordingId } = await sharedTake(page, 4, "How the ridge vent closes", "voice");
  await page.goto("/account");
  await fold(page, "Programs that act for you").click();
  const form = page.getByRole("form", { name: "Let a program act for you" });
  await form.getByLabel("What it is called").fill("Timesheet");
  await form.getByLabel(/^See comments/).check();
  await form.getByLabel("Your password").fill(PASSWORD);
  await sound(page, "programs that act for somebody");
  await form.getByRole("button", { name: "Make its secret" }).click();
  await form.getByRole("button", { name: "Copy" }).click();
  const secret = await page.evaluate(() => navigator.clipboard.readText());
  const row = page.getByRole("list", { name: "Programs" }).getByRole("listitem");
  await expect(row).toContainText("Timesheet in Fenn & Lark Glasshouses: read, answers");
  await expect(row).toContainText("not used yet");

  // A program has no cookies.
  const program = await request.newContext({ baseURL, extraHTTPHeaders: { authorization: `Bearer ${secret}` } });
  const list = await program.get("/api/v1/recordings");
  expect(await list.json()).toMatchObject({
    recordings: [{ id: recordingId, link, mine: true, seconds: expect.closeTo(4, 1) }],
  });
  const change = { data: { title: "Another" } };
  expect((await program.patch(`/api/v1/recordings/${recordingId}`, change)).status()).toBe(403);
  expect((await program.get("/library", { maxRedirects: 0 })).status()).toBe(302);

  await page.reload();
  await fold(page, "Programs that act for you").click();
  await expect(row).toContainText("last used today");
  await expect(page.getByText(secret)).toHaveCount(0);
  await row.getByRole("button", { name: "End Timesheet" }).click();
  await expect(row).toHaveCount(0);
  expect((await program.get("/api/v1/recordings")).status()).toBe(401);
  await program.dispose();
});

test("an address is told what was said, tries included, and says what became of it", async ({
  page,
  baseURL,
  dataDir,
}) => {
  const sent: { headers: IncomingHttpHeaders; body: string }[] = [];
  const told = createServer((req, res) => {
    let body = "";
    req
      .on("data", (part: Buffer) => (body += part.toString()))
      .on("end", () => {
        sent.push({ headers: req.headers, body });
        res.writeHead(202).end();
      });
  });
  await new Promise<void>((done) => told.listen(0, "127.0.0.1", done));
  try {
    const address = `http://127.0.0.1:${(told.address() as { port: number }).port}/told`;
    await signUp(page);
    const { link } = await sharedTake(page, 4, "How the ridge vent closes", "voice");
    await page.goto("/account");
    await fold(page, "Addresses that are told").click();
    const form = page.getByRole("form", { name: "Tell an address" });
    await form.getByLabel("Its address").fill("told");
    await form.getByRole("button", { name: "Tell it" }).click();
    await expect(form.getByRole("alert")).toContainText("Give a whole address");
    await form.getByLabel("Its address").fill(address);
    await form.getByRole("button", { name: "Tell it" }).click();
    await form.getByRole("button", { name: "Copy" }).click();
    const secret = await page.evaluate(() => navigator.clipboard.readText());
    const row = page.getByRole("list", { name: "Addresses" }).getByRole("listitem");
    await expect(row).toContainText("Nothing was sent yet.");
    await sound(page, "addresses that are told");
    await row.getByRole("button", { name: `Try ${address}` }).click();
    await expect(row).toContainText("taken (202)");

    const guest = await request.newContext({ baseURL });
    const token = link.split("/w/")[1]!;
    await guest.post(`/w/${token}/visit`, { data: { invite: null, named: true } });
    await guest.post(`/w/${token}/say`, { data: { do: "name", name: "Tove Reed" } });
    const said = { do: "comment", id: crypto.randomUUID(), body: "Which screw?", at: 1e6, until: null, revision: 1 };
    expect((await guest.post(`/w/${token}/say`, { data: said })).status()).toBe(200);
    await guest.dispose();
    await runJob(dataDir, "hooks");
    await expect.poll(() => sent.length).toBe(2);
    const [, { headers, body }] = sent as [unknown, (typeof sent)[number]];
    expect(new Webhook(secret).verify(body, headers as Record<string, string>)).toMatchObject({
      type: "recording.comment",
      data: { recording: { link }, who: "Tove Reed", words: "Which screw?", at: 1 },
    });
    await row.getByRole("button", { name: `End ${address}` }).click();
    await expect(row).toHaveCount(0);
  } finally {
    told.closeAllConnections();
    await new Promise((done) => told.close(done));
  }
});
