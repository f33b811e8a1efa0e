import { createHmac } from "node:crypto";
import { nanoid } from "nanoid";
import type { Logger } from "pino";
import { Afterwards } from "../afterwards";
import type { Database } from "../database/connection";
import type { DeedLimits } from "../deed-limits";
import type { Post } from "../mail/post";
import { signUpForm, type Accounts, type SignUp } from "./accounts";
import { notOpen } from "./account";
import { CLEAR_STARTS, PUT_START, START, USE_START } from "./sql";

/** So long the link in a letter is open, in minutes. */
const MINUTES = 24 * 60;
/** So many letters go to one address within an hour, and within a day, whoever asks. */
const MOST_LETTERS = { hour: 3, day: 6 };

/** What is asked by the letter. */
export const startedForm = signUpForm.fork("email", (field) => field.forbidden().strip());

/**
 * Accounts that begin with a letter, where mail is delivered. Whoever asks for one hears the same whether the address
 * has one or not: only the letter tells, to whoever reads it. And whoever reads it chooses the password, so that nobody
 * makes an account for an address of somebody else's.
 */
export class Starts {
  #afterwards: Afterwards;

  constructor(
    private readonly parts: { db: Database; accounts: Accounts; post: Post; limits: DeedLimits; log: Logger },
    private readonly settings: { publicUrl: string; sessionSecret: string },
  ) {
    this.#afterwards = new Afterwards(parts.log, "letter not written");
  }

  /** Does an account begin with a letter? Where none is delivered it begins at once. */
  get byLetter(): boolean {
    return this.parts.post.delivers;
  }

  /**
   * Mails a link by which an account is made; or, where the address has one, says so there.
   * @param to the page to which they go then
   * @throws {Problem} 403 where one has to be invited, 429 after many
   */
  async ask(email: string, to: string, address: string): Promise<void> {
    await this.parts.accounts.requireOpen();
    await this.parts.limits.take("code", { viewer: `${email} ${address}`, address });
    this.#afterwards.do(() => this.#mail(email, to));
  }

  /** To which address the letter went. @throws {Problem} 404 where it starts nothing any more */
  async addressOf(token: string): Promise<string> {
    const [row] = await this.parts.db.rows<{ email: string }>(START, [this.#hash(token)]);
    if (!row) throw notOpen();
    return row.email;
  }

  /** Makes the account, once. @returns who it is @throws {Problem} 404, 409 where the address has one by now */
  async start(
    token: string,
    given: Omit<SignUp, "email">,
    address: string,
  ): Promise<{ personId: string; email: string }> {
    const email = await this.addressOf(token);
    const personId = await this.parts.accounts.signUp({ ...given, email }, address, async (transaction) => {
      const used = await this.parts.db.rows(USE_START, [this.#hash(token)], transaction);
      if (used.length === 0) throw notOpen();
    });
    return { personId, email };
  }

  /** Letters that start nothing any more go. */
  async clear(): Promise<void> {
    await this.parts.db.rows(CLEAR_STARTS);
  }

  /** Ends when every letter that was asked for is on its way. */
  settled = (): Promise<void> => this.#afterwards.settled();

  async #mail(email: string, to: string): Promise<void> {
    const { db, post } = this.parts;
    const token = nanoid(32);
    const put = await db.rows(PUT_START, [this.#hash(token), email, MINUTES, MOST_LETTERS.hour, MOST_LETTERS.day]);
    if (put.length === 0) return;
    const person = await db.models.Person.findOne({ where: { email }, attributes: ["name"] });
    const { publicUrl } = this.settings;
    const way = to === "/library" ? "" : `?to=${encodeURIComponent(to)}`;
    const id = await post.write({
      kind: "start",
      to: { address: email, name: person?.name ?? null },
      from: null,
      letter: person
        ? {
            subject: "You have an account at Clear Nod",
            title: "You have an account already",
            paragraphs: ["Somebody, you we hope, wanted to start a workspace with this address. It has an account."],
            link: { words: "Sign in", url: `${publicUrl}/sign-in${way}` },
            foot: [`If you have forgotten the password: ${publicUrl}/forgot. If it was not you, do nothing.`],
          }
        : {
            subject: "Start with Clear Nod",
            title: "Start a workspace",
            paragraphs: ["Somebody, you we hope, wants to start a workspace at Clear Nod with this address."],
            link: { words: "Go on", url: `${publicUrl}/start/${token}${way}` },
            foot: ["The link is open for a day. If it was not you, do nothing: there is no account."],
          },
    });
    await post.carryLater([id]);
  }

  #hash(token: string): Buffer {
    return createHmac("sha256", this.settings.sessionSecret).update(`start ${token}`).digest();
  }
}
