import { randomUUID } from "node:crypto";
import Joi from "joi";
import { UniqueConstraintError, type Transaction } from "sequelize";
import type { Database } from "../database/connection";
import { nameOf } from "../http/fields";
import { Problem } from "../http/problem";
import type { Settings } from "../settings";
import type { Workspaces } from "../workspaces/workspaces";
import type { Attempt, SignInLimits } from "./limits";
import { hashPassword, isPassword, type PasswordOf } from "./passwords";

export const emailField = Joi.string().trim().lowercase().max(254).email({ tlds: false }).required().messages({
  "any.required": "Give your e-mail address.",
  "string.empty": "Give your e-mail address.",
  "string.email": "This does not look like an e-mail address.",
  "string.max": "This address is too long.",
});
// NIST SP 800-63B (from memory): a minimum length, no rules about kinds of characters.
export const passwordField = Joi.string().min(10).max(200).required().messages({
  "any.required": "Choose a password.",
  "string.empty": "Choose a password.",
  "string.min": "Use at least 10 characters.",
  "string.max": "Use at most 200 characters.",
});
const account = { name: nameOf("your name"), email: emailField, password: passwordField };
export const signUpForm = Joi.object({ ...account, workspace: nameOf("your workspace a name") });
/** Whoever is mailed a link, and says no more than where to. */
export const addressForm = Joi.object({ email: emailField });
/** Of somebody who comes by a link into a workspace that is there. */
export const signUpToJoinForm = Joi.object(account);

export const signInForm = Joi.object({
  email: emailField,
  password: Joi.string().max(200).required().messages({
    "any.required": "Give your password.",
    "string.empty": "Give your password.",
    "string.max": "That is not the password.",
  }),
});

export interface NewAccount {
  name: string;
  email: string;
  password: string;
}

export interface SignUp extends NewAccount {
  workspace: string;
}

export class Accounts {
  constructor(
    private readonly db: Database,
    private readonly limits: SignInLimits,
    private readonly workspaces: Pick<Workspaces, "createFor" | "join" | "linkOf">,
    private readonly signUps: Settings["signUp"] = "open",
  ) {}

  /** May somebody start a workspace without being invited? Whoever comes first may in any case. */
  async isOpen(): Promise<boolean> {
    return this.signUps === "open" || (await this.db.models.Person.findOne({ attributes: ["id"] })) === null;
  }

  /** @throws {Problem} 403 where one has to be invited */
  async requireOpen(): Promise<void> {
    if (!(await this.isOpen())) throw new Problem(403, "invited-only", "Here an account is made by an invitation.");
  }

  /**
   * Makes a workspace and the person who owns it.
   * @param useLetter where they come by a letter: that is used up, or nothing is made
   * @returns the person's id
   * @throws {Problem} 403 where one has to be invited, 409 if the address is taken, 429 after very many from one
   * network address
   */
  async signUp(
    { workspace, ...account }: SignUp,
    address: string,
    useLetter?: (transaction: Transaction) => Promise<void>,
  ): Promise<string> {
    await this.requireOpen();
    return this.#make(account, address, async (personId, transaction) => {
      await useLetter?.(transaction);
      await this.workspaces.createFor(personId, workspace, transaction);
      if (useLetter) await this.#proved(personId, transaction);
    });
  }

  /**
   * Makes a person who belongs to the workspace of a join link.
   * @returns the person's id
   * @throws {Problem} as `signUp`, and 404 if the link is not open any more
   */
  signUpToJoin(account: NewAccount, token: string, address: string): Promise<string> {
    return this.#make(account, address, async (personId, transaction) => {
      const { address: mailedTo } = await this.workspaces.linkOf(token, transaction);
      await this.workspaces.join(personId, token, transaction);
      // It came to them by mail.
      if (mailedTo === account.email) await this.#proved(personId, transaction);
    });
  }

  async #proved(personId: string, transaction: Transaction): Promise<void> {
    await this.db.models.Person.update({ provedAt: new Date() }, { where: { id: personId }, transaction });
  }

  async #make(
    { name, email, password }: NewAccount,
    address: string,
    enter: (personId: string, transaction: Transaction) => Promise<void>,
  ): Promise<string> {
    await this.limits.signUp(address);
    const passwordHash = await hashPassword(password, { lane: "sign-up", one: address });
    try {
      return await this.db.sequelize.transaction(async (transaction) => {
        const person = await this.db.models.Person.create(
          { id: randomUUID(), name, email, passwordHash },
          { transaction },
        );
        await enter(person.id, transaction);
        return person.id;
      });
    } catch (cause) {
      if (cause instanceof UniqueConstraintError) {
        throw new Problem(409, "email-taken", "This address has an account already. Sign in instead.");
      }
      throw cause;
    }
  }

  /**
   * @returns the person's id
   * @throws {Problem} 401 when address and password do not fit, 429 after too many attempts
   */
  async signIn(given: { email: string; password: string }, from: Omit<Attempt, "email">): Promise<string> {
    const attempt = { ...from, email: given.email };
    await this.limits.attempt(attempt);
    const person = await this.db.models.Person.findOne({ where: { email: given.email } });
    const { address, computer } = from;
    const whose: PasswordOf = computer ? { lane: "known computer", one: computer } : { lane: "sign-in", one: address };
    if (!(await isPassword(person?.passwordHash ?? null, given.password, whose))) {
      throw new Problem(401, "wrong-sign-in", "Address and password do not fit together.");
    }
    await this.limits.succeeded(attempt);
    return person!.id;
  }
}
