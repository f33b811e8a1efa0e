import { SMTPServer } from "smtp-server";
import { buffer } from "node:stream/consumers";
import { Program } from "./program";
import { accessible, PASSWORD } from "./steps";
import { expect, test } from "./test";

/** A mail server on loopback (`smtp-server`, from the registry), and what it was sent. */
async function openMailServer() {
  const letters: string[] = [];
  const server = new SMTPServer({
    authOptional: true,
    disabledCommands: ["STARTTLS"],
    onData: (stream, _session, done) => {
      void buffer(stream).then((bytes) => {
        // Quoted-printable, as far as links go (RFC 2045, 6.7).
        letters.push(bytes.toString("latin1").replaceAll("=\r\n", "").replaceAll("=3D", "="));
        done();
      });
    },
  });
  await new Promise<void>((done) => server.listen(0, "127.0.0.1", done));
  const { port } = server.server.address() as { port: number };
  return { url: `smtp://127.0.0.1:${port}`, letters, close: () => new Promise<void>((done) => server.close(done)) };
}

test("where mail is delivered, an account begins with a letter, and nobody hears who has one", async ({ page }) => {
  const mail = await openMailServer();
  const program = new Program("off");
  Object.assign(program.env, { MAIL_URL: mail.url });
  try {
    await program.launch();
    await program.up();
    const ask = async (email: string) => {
      await page.goto(`${program.base}/sign-up`);
      await page.getByLabel("E-mail address").fill(email);
      await page.getByRole("button", { name: "Mail me a link" }).click();
      await expect(page.getByRole("heading", { name: "Look at your mail" })).toBeVisible();
      return page.locator("main").textContent();
    };
    const [orla, ida] = ["orla@glasshouse.test", "ida@crake.example"];
    const said = await ask(orla);
    await expect.poll(() => mail.letters.length).toBe(1);
    const link = /https?:\/\/\S+\/start\/[\w-]{32}/.exec(mail.letters[0]!)![0];
    await page.goto(link);
    await expect(page.getByText(`You sign in with ${orla}.`)).toBeVisible();
    await accessible(page, "an account that begins");
    await page.getByLabel("Your name").fill("Orla Fenn");
    await page.getByLabel("Workspace").fill("Fenn & Lark");
    await page.getByLabel("Password").fill("short");
    await page.getByRole("button", { name: "Start" }).click();
    await expect(page.getByText("Use at least 10 characters.")).toBeVisible();
    await page.getByLabel("Password").fill(PASSWORD);
    await page.getByRole("button", { name: "Start" }).click();
    await expect(page.getByRole("heading", { name: "Your library is empty" })).toBeVisible();
    // The link was for once.
    await page.context().clearCookies();
    await page.goto(link);
    await expect(page.getByRole("heading", { name: "This link does nothing any more" })).toBeVisible();

    // Whoever has an account is told so in a letter, and whoever asks hears the same as before.
    expect((await ask(orla))!.replace(orla, ida)).toBe(said!.replace(orla, ida));
    await expect.poll(() => mail.letters.length).toBe(2);
    expect(mail.letters[1]).toContain("You have an account already");
    expect(program.said).not.toContain(link.slice(-32));
  } finally {
    await program.stop();
    await mail.close();
  }
});
