import { randomUUID } from "node:crypto";
import Joi from "joi";
import { UniqueConstraintError } from "sequelize";
import type { Database } from "../database/connection";
import { nameOf } from "../http/fields";
import { Problem } from "../http/problem";
import type { Attempt, SignInLimits } from "./limits";
import { hashPassword, isPassword } from "./passwords";

const email = Joi.string().trim().lowercase().max(254).email({ tlds: false }).required().messages({
  "any.required": "Give your e-mail address.",
  "string.empty": "Give your e-mail address.",
  "string.email": "This does not look like an e-mail address.",
  "string.max": "This address is too long.",
});
export const signUpForm = Joi.object({
  name: nameOf("your name"),
  workspace: nameOf("your workspace a name"),
  email,
  // NIST SP 800-63B (from memory): a minimum length, no rules about kinds of characters.
  password: Joi.string().min(10).max(200).required().messages({
    "any.required": "Choose a password.",
    "string.empty": "Choose a password.",
    "string.min": "Use at least 10 characters.",
    "string.max": "Use at most 200 characters.",
  }),
});

export const signInForm = Joi.object({
  email,
  password: Joi.string().max(200).required().messages({
    "any.required": "Give your password.",
    "string.empty": "Give your password.",
    "string.max": "That is not the password.",
  }),
});

export interface SignUp {
  name: string;
  workspace: string;
  email: string;
  password: string;
}

export class Accounts {
  constructor(
    private readonly db: Database,
    private readonly limits: SignInLimits,
  ) {}

  /**
   * Makes a workspace and its first member.
   * @returns the member's id
   * @throws {Problem} 409 if the address is taken, 429 after very many from one network address
   */
  async signUp({ name, workspace, email, password }: SignUp, address: string): Promise<string> {
    await this.limits.signUp(address);
    const passwordHash = await hashPassword(password);
    const { Workspace, Member } = this.db.models;
    try {
      return await this.db.sequelize.transaction(async (transaction) => {
        const { id: workspaceId } = await Workspace.create({ id: randomUUID(), name: workspace }, { transaction });
        const member = await Member.create(
          { id: randomUUID(), workspaceId, name, email, passwordHash, role: "owner" },
          { transaction },
        );
        return member.id;
      });
    } catch (cause) {
      if (cause instanceof UniqueConstraintError) {
        throw new Problem(409, "email-taken", "This address has an account already. Sign in instead.");
      }
      throw cause;
    }
  }

  /**
   * @returns the member's id
   * @throws {Problem} 401 when address and password do not fit, 429 after too many attempts
   */
  async signIn(given: { email: string; password: string }, from: Omit<Attempt, "email">): Promise<string> {
    const attempt = { ...from, email: given.email };
    await this.limits.attempt(attempt);
    const member = await this.db.models.Member.findOne({ where: { email: given.email } });
    if (!(await isPassword(member?.passwordHash ?? null, given.password))) {
      throw new Problem(401, "wrong-sign-in", "Address and password do not fit together.");
    }
    await this.limits.succeeded(attempt);
    return member!.id;
  }
}
