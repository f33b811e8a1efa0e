import { readFile } from "node:fs/promises";
import type { Page } from "@playwright/test";
import sharp from "sharp";
import { decodeComplaints } from "../testing/media";
import { filesOf } from "../testing/zip";
import { databaseOf } from "./database";
import { expect, test } from "./test";
import { another, colleagueOf, fold, sharedTake, signUp, signUpByForm, sound } from "./steps";

const PASSWORD = "ridge-vent-and-putty";

/** What stands in the newest letter to an address, once it is there: no page shows those that open an account. */
async function letterTo(dataDir: string, address: string, subject: RegExp): Promise<string> {
  const client = await databaseOf(dataDir);
  const newest = "select subject, text from mails where to_address = $1 order by made_at desc";
  try {
    let text: string | null = null;
    await expect
      .poll(async () => {
        const { rows } = await client.query<{ subject: string; text: string }>(newest, [address]);
        return (text = rows.find((letter) => subject.test(letter.subject))?.text ?? null);
      })
      .not.toBeNull();
    return text!;
  } finally {
    await client.end();
  }
}
const linkIn = (text: string) => /https?:\/\/\S+\/(?:reset|confirm|undo|join)\/\S+/.exec(text)![0];
const signIn = async (page: Page, email: string, password: string) => {
  await page.goto("/sign-in");
  await page.getByLabel("E-mail address").fill(email);
  await page.getByLabel("Password").fill(password);
  await page.getByRole("button", { name: "Sign in", exact: true }).click();
};

test("a name, an address, a password; where one is signed in; and a password that was forgotten", async ({
  page,
  browser,
  dataDir,
}) => {
  const email = await signUpByForm(page);
  await page.getByRole("button", { name: "Orla Fenn, account" }).click();
  await page.getByRole("menuitem", { name: "Your account" }).click();
  await sound(page, "the account");
  await page.getByText("Name", { exact: true }).click();
  await page.getByLabel("Your name").fill("Orla Thorne");
  await page.getByRole("button", { name: "Change it" }).first().click();
  await expect(page.getByRole("button", { name: "Orla Thorne, account" })).toBeVisible();

  const next = `orla${Date.now()}@thorne.example`;
  await page.getByText("Address", { exact: true }).click();
  await page.getByLabel("The new address").fill(next);
  await page.getByLabel("The password that you have now").first().fill("a wrong one");
  await page.getByRole("button", { name: "Mail a link there" }).click();
  await expect(page.getByText("That is not the password that you have now.")).toBeVisible();
  await page.getByLabel("The password that you have now").first().fill(PASSWORD);
  await page.getByRole("button", { name: "Mail a link there" }).click();
  await expect(page.getByText(/A link is on its way/)).toBeVisible();
  const confirm = linkIn(await letterTo(dataDir, next, /Is this your address/));
  const mailed = await another(browser);
  // Whoever reads that mail is not whoever has the account.
  await mailed.goto(confirm);
  await expect(mailed.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await page.goto(confirm);
  await sound(page, "an address to be confirmed");
  // Where no scripts run it is done all the same, and told as it is.
  const storageState = await page.context().storageState();
  const plain = await (await browser.newContext({ javaScriptEnabled: false, storageState })).newPage();
  await plain.goto(confirm);
  await plain.getByRole("button", { name: "Yes, it is mine" }).click();
  await expect(plain.getByRole("heading", { name: "The address is yours" })).toBeVisible();
  await expect(plain.getByText(`You sign in with ${next} from now on.`)).toBeVisible();
  const told = await letterTo(dataDir, email, /Your account has changed/);
  expect(told).toContain(next);
  await mailed.goto(linkIn(told));
  await sound(mailed, "an address to be put back");
  await expect(mailed.getByText(`signs in with ${next} now. Put ${email} back`)).toBeVisible();
  await page.goto("/account");

  // Signed in somewhere else, and ended from here.
  await signIn(mailed, email, PASSWORD);
  await expect(mailed.getByText("Address and password do not fit together.")).toBeVisible();
  await signIn(mailed, next, PASSWORD);
  await expect(mailed.getByRole("heading", { name: "Your library is empty" })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("listitem")).toHaveCount(2);
  await page.getByRole("button", { name: /^Sign out of Chrome/ }).click();
  await expect(page.getByRole("listitem")).toHaveCount(1);
  await mailed.goto("/library");
  await expect(mailed.getByRole("heading", { name: "Sign in" })).toBeVisible();

  await mailed.getByRole("link", { name: "I have forgotten my password" }).click();
  // The page before has a field of that name as well.
  await expect(mailed.getByRole("heading", { name: "A new password" })).toBeVisible();
  await mailed.getByLabel("E-mail address").fill(next);
  await mailed.getByRole("button", { name: "Mail me a link" }).click();
  await expect(mailed.getByRole("heading", { name: "Look at your mail" })).toBeVisible();
  // What else acts for them: a program that they keep, and one that they do not.
  for (const name of ["Mine", "Whose is it"]) {
    const form = { do: "make-program", name, scopes: '["read"]', days: "30", current: PASSWORD };
    expect(
      (await page.request.post("/sign-in", { form: { email: next, password: PASSWORD }, maxRedirects: 0 })).status(),
    ).toBe(302);
    expect((await page.request.post("/account.data", { form })).status()).toBe(200);
  }
  const reset = linkIn(await letterTo(dataDir, next, /A new password/));
  await mailed.goto(reset);
  await sound(mailed, "a new password");
  await mailed.getByLabel("New password").fill("short");
  await mailed.getByRole("button", { name: /Set it/ }).click();
  await expect(mailed.getByText("Use at least 10 characters.")).toBeVisible();
  await expect(mailed.getByRole("group", { name: "These also have access to your account" })).toContainText(
    "Whose is it",
  );
  await mailed.getByRole("checkbox", { name: /API token Mine/ }).check();
  await mailed.getByLabel("New password").fill("sash-cord-and-beading");
  await mailed.getByRole("button", { name: /Set it/ }).click();
  await expect(mailed.getByRole("heading", { name: "Your library is empty" })).toBeVisible();
  await mailed.goto("/account");
  await mailed.getByText("Programs that act for you").click();
  await expect(mailed.getByRole("list", { name: "Programs" }).getByRole("listitem")).toHaveText([/Mine/]);
  // Everywhere else one is signed out, and the link does nothing any more.
  await page.goto("/library");
  await expect(page.getByRole("heading", { name: "Sign in" })).toBeVisible();
  await page.goto(reset);
  await expect(page.getByRole("heading", { name: "This link does nothing any more" })).toBeVisible();
  await signIn(page, next, PASSWORD);
  await expect(page.getByText("Address and password do not fit together.")).toBeVisible();
  await mailed.context().close();
});

test("somebody is invited by mail, and comes by a link that lets in one person", async ({ page, browser, dataDir }) => {
  await signUp(page);
  await page.goto("/workspace");
  const address = `hester${Date.now()}@quill.example`;
  await page.getByRole("textbox", { name: "Invite by mail" }).fill(`Hester Quill <${address}>, Odo`);
  await page.getByRole("button", { name: "Invite", exact: true }).click();
  await expect(page.getByText("These are no addresses: Odo. Nobody was invited.")).toBeVisible();
  await page.getByRole("textbox", { name: "Invite by mail" }).fill(`Hester Quill <${address}>`);
  await page.getByRole("button", { name: "Invite", exact: true }).click();
  await expect(page.getByText("On its way to one person.")).toBeVisible();
  await expect(page.getByText(`Mailed to ${address}.`)).toBeVisible();

  const link = linkIn(await letterTo(dataDir, address, /invites you/));
  const hester = await another(browser);
  await hester.goto(link);
  await hester.getByRole("link", { name: "Make an account" }).click();
  await hester.getByLabel("Your name").fill("Hester Quill");
  await hester.getByLabel("E-mail address").fill(address);
  await hester.getByLabel("Password").fill(PASSWORD);
  await hester.getByRole("button", { name: "Join" }).click();
  await expect(hester.getByRole("button", { name: "Fenn & Lark Glasshouses, workspace" })).toBeVisible();
  await page.reload();
  await expect(page.getByRole("listitem", { name: "Hester Quill" })).toContainText("last here today");
  const late = await another(browser);
  await late.goto(link);
  await expect(late.getByRole("heading", { name: "This link is closed" })).toBeVisible();
  await signUp(late, "Whoever Looks");
  await late.goto("/post");
  await expect(late.getByRole("article").filter({ hasText: address })).toHaveCount(0);
  for (const other of [late, hester]) await other.context().close();
});

test("somebody signs in by a passkey, with nothing typed, until it is removed", async ({ page, browser }) => {
  const email = await signUp(page);
  // Outside check: the browser's own authenticator, without a device (WebAuthn 3, 11).
  const browserOf = await page.context().newCDPSession(page);
  await browserOf.send("WebAuthn.enable");
  const options = {
    ...({ protocol: "ctap2", transport: "internal", automaticPresenceSimulation: true } as const),
    ...{ hasResidentKey: true, hasUserVerification: true, isUserVerified: true },
  };
  const { authenticatorId } = await browserOf.send("WebAuthn.addVirtualAuthenticator", { options });
  await page.goto("/account");
  await fold(page, "Passkeys").click();
  const made = page.getByRole("form", { name: "Another passkey" });
  await made.getByLabel("The password that you have now").fill("not this one");
  await made.getByRole("button", { name: "Make a passkey here" }).click();
  await expect(page.getByRole("alert")).toHaveText("That is not the password that you have now.");
  await made.getByLabel("The password that you have now").fill(PASSWORD);
  await made.getByRole("button", { name: "Make a passkey here" }).click();
  await expect(made.getByRole("status")).toHaveText("Made. Next time you can sign in with it.");
  await expect(page.getByRole("list", { name: "Passkeys" }).getByRole("listitem")).toContainText("not used yet");
  await made.getByLabel("The password that you have now").fill(PASSWORD);
  await made.getByRole("button", { name: "Make a passkey here" }).click();
  await expect(page.getByRole("alert")).toHaveText("There is a passkey of yours on this device already.");
  await sound(page, "passkeys of an account");

  const signOut = async () => {
    await page.getByRole("button", { name: "Orla Fenn, account" }).click();
    await page.getByRole("menuitem", { name: "Sign out" }).click();
    await expect(page).toHaveURL(/\/sign-in$/);
  };
  await signOut();
  await page.goto("/sign-in?to=%2Ffigures");
  await page.getByRole("button", { name: "Sign in with a passkey" }).click();
  await expect(page).toHaveURL(/\/figures$/);
  await expect(page.getByRole("button", { name: "Orla Fenn, account" })).toBeVisible();

  // Who does not show who they are is not let in.
  await signOut();
  await sound(page, "signing in");
  await browserOf.send("WebAuthn.setUserVerified", { authenticatorId, isUserVerified: false });
  await page.getByRole("button", { name: "Sign in with a passkey" }).click();
  await expect(page.getByRole("alert")).toHaveText("No passkey was chosen.");
  await browserOf.send("WebAuthn.setUserVerified", { authenticatorId, isUserVerified: true });

  const elsewhere = await another(browser);
  await signIn(elsewhere, email, PASSWORD);
  await expect(elsewhere.getByRole("button", { name: "Orla Fenn, account" })).toBeVisible();
  await elsewhere.goto("/account");
  await fold(elsewhere, "Passkeys").click();
  await expect(elsewhere.getByRole("list", { name: "Passkeys" }).getByRole("listitem")).toContainText("last used");
  elsewhere.on("dialog", (dialog) => void dialog.accept());
  await elsewhere.getByRole("button", { name: /^Remove the passkey of/ }).click();
  await expect(elsewhere.getByRole("list", { name: "Passkeys" })).toHaveCount(0);
  await page.getByRole("button", { name: "Sign in with a passkey" }).click();
  await expect(page.getByRole("alert")).toContainText("Nobody is known here by this passkey.");
});

test("everything of somebody is taken away in one file", async ({ page }) => {
  const email = await signUp(page);
  await sharedTake(page, 4, "Ridge vent: oil", "voice");
  await page.goto("/account");
  await fold(page, "Everything of yours").click();
  await sound(page, "everything of an account");
  const saved = page.waitForEvent("download");
  await page.getByRole("link", { name: "Save it" }).click();
  const file = await saved;
  expect(file.suggestedFilename()).toBe("clear-nod.zip");
  const files = await filesOf(await readFile(await file.path()));
  expect(JSON.parse(files.get("account.json")!.toString())).toMatchObject({ email });
  const voice = [...files].find(([name]) => /Ridge vent oil [\da-f]{8}\/take 1 microphone\.mp4$/.test(name))![1];
  expect(decodeComplaints(voice)).toBe("");
});

test("an account ends: what others need passes on, the rest is gone, and nobody gets in by it any more", async ({
  page,
  browser,
}) => {
  await signUp(page);
  const suri = await colleagueOf(page, await another(browser), "Suri Vale");
  const email = (await suri.request.get("/account").then((answer) => answer.text())).match(
    /[\w.]+@glasshouse\.test/,
  )![0];
  const { link } = await sharedTake(suri, 4, "Lead flashing", "voice");
  await suri.request.post("/workspace.data", { form: { do: "create", name: "Suri alone" } });
  await suri.goto("/account");
  await fold(suri, "The end of your account").click();
  await expect(suri.getByText("Suri alone is yours alone: it is removed for good, with no recordings.")).toBeVisible();
  const form = suri.getByRole("form", { name: "End your account" });
  const heir = form.getByRole("combobox", { name: "Fenn & Lark Glasshouses: one recording of yours pass to" });
  await expect(heir).toHaveText("Orla Fenn");
  await sound(suri, "the end of an account");
  await form.getByLabel("The password that you have now").fill("not this one");
  // Not at once, and not by mistake.
  suri.once("dialog", (dialog) => void dialog.dismiss());
  await form.getByRole("button", { name: "End my account" }).click();
  suri.on("dialog", (dialog) => void dialog.accept());
  await form.getByRole("button", { name: "End my account" }).click();
  await expect(form.getByRole("alert")).toHaveText("That is not the password that you have now.");
  await form.getByLabel("The password that you have now").fill(PASSWORD);
  await form.getByRole("button", { name: "End my account" }).click();
  await expect(suri).toHaveURL(/\/sign-in$/);
  await suri.getByLabel("E-mail address").fill(email);
  await suri.getByLabel("Password").fill(PASSWORD);
  await suri.getByRole("button", { name: "Sign in", exact: true }).click();
  await expect(suri.getByRole("alert")).toHaveText("Address and password do not fit together.");
  await suri.goto(link);
  await expect(suri.getByRole("heading", { name: "Lead flashing" })).toBeVisible();
  await page.goto(link);
  await expect(page.getByTitle("Change who can open it")).toBeVisible();
  await suri.context().close();
});

test("a portrait is a file, or a still of the camera, and stands beside what somebody says", async ({
  page,
  browser,
}) => {
  await signUp(page);
  const { link } = await sharedTake(page, 4, "Lead flashing", "voice");
  await page.goto("/account");
  await fold(page, "Portrait").click();
  const shown = page.getByRole("banner").locator('img[src^="/portraits/"]');
  const picture = await sharp({ create: { width: 300, height: 200, channels: 3, background: "#2f7d5b" } })
    .png()
    .toBuffer();
  await page.getByLabel("Choose a picture").setInputFiles({ name: "me.png", mimeType: "image/png", buffer: picture });
  await expect(shown).toHaveJSProperty("naturalHeight", 276);
  const first = await shown.getAttribute("src");
  await page.getByRole("button", { name: "Take one with the camera" }).click();
  const still = page.getByRole("group", { name: "Portrait by the camera" });
  await expect(still.getByLabel("Your camera")).toHaveJSProperty("readyState", 4);
  await sound(page, "a portrait by the camera");
  await still.getByRole("button", { name: "Take it" }).click();
  await expect(shown).not.toHaveAttribute("src", first!);
  await expect(still).toHaveCount(0);
  await page.goto(link);
  await page.getByLabel("Comment at this moment").fill("Which side goes under?");
  await page.getByRole("button", { name: "Comment", exact: true }).click();
  const said = page.getByRole("listitem").filter({ hasText: "Which side goes under?" });
  await expect(said.locator("img")).toHaveAttribute("src", /^\/portraits\/[\da-f]{16}$/);
  const guest = await another(browser);
  await guest.goto(link);
  await expect(
    guest.getByRole("listitem").filter({ hasText: "Which side goes under?" }).locator("img"),
  ).toHaveJSProperty("naturalWidth", 240);
  await page.goto("/account");
  await fold(page, "Portrait").click();
  await page.getByRole("button", { name: "Take it off" }).click();
  await expect(shown).toHaveCount(0);
  await guest.context().close();
});
