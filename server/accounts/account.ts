import { createHmac } from "node:crypto";
import Joi from "joi";
import { nanoid } from "nanoid";
import type { Logger } from "pino";
import { UniqueConstraintError, type Transaction } from "sequelize";
import { Afterwards } from "../afterwards";
import type { Database } from "../database/connection";
import type { ProofKind } from "../database/models/people";
import type { DeedLimits } from "../deed-limits";
import { nameOf } from "../http/fields";
import { Problem } from "../http/problem";
import type { Post } from "../mail/post";
import { emailField, passwordField } from "./accounts";
import { hashPassword, isPassword } from "./passwords";
import type { Sessions, SignedIn } from "./sessions";
import { ACCESSES, END_ACCESSES, END_PROOFS, END_UNDO_SINCE, PROOF, PUT_PROOF, PUT_UNDO, USE_PROOF } from "./sql";

/** What shows that it is still the same person. */
export const currentField = Joi.string().max(200).required().messages({
  "any.required": "Give the password that you have now.",
  "string.empty": "Give the password that you have now.",
  "string.max": "That is not the password.",
});
/** What of an account can be another way. */
export const accountForms = {
  name: Joi.object({ name: nameOf("your name") }),
  password: Joi.object({ current: currentField, password: passwordField }),
  address: Joi.object({ current: currentField, email: emailField }),
  "end-session": Joi.object({ session: Joi.string().hex().length(64).required() }),
  "end-others": Joi.object({}),
} satisfies Record<string, Joi.ObjectSchema>;
export const resetForm = Joi.object({ password: passwordField });

const MINUTES: Record<Exclude<ProofKind, "undo">, number> = { reset: 60, address: 24 * 60 };
/** So long somebody whose account was taken over can have their address back. */
const UNDO_DAYS = 7;

/** What acts for somebody besides themselves, and goes on when a password is another one. */
export interface AccessGiven {
  kind: "program" | "hook" | "feed" | "passkey";
  id: string;
  name: string;
  madeAt: string;
}

interface Proved {
  personId: string;
  address: string | null;
  name: string;
  email: string;
}

/** Somebody's own account: what they change of it, and how they get in again. */
export class Account {
  #afterwards: Afterwards;

  constructor(
    private readonly parts: { db: Database; sessions: Sessions; post: Post; limits: DeedLimits; log: Logger },
    private readonly settings: { publicUrl: string; sessionSecret: string },
  ) {
    this.#afterwards = new Afterwards(parts.log, "letter not written");
  }

  async rename({ id }: SignedIn, name: string): Promise<void> {
    await this.parts.db.models.Person.update({ name }, { where: { id } });
    await this.parts.sessions.changed(id);
  }

  /** Another password. Every other sign-in ends. @param session the name of the one that goes on */
  async changePassword(
    member: SignedIn,
    given: { current: string; password: string },
    { session, address }: { session: string; address: string },
  ): Promise<void> {
    await this.requirePassword(member, given.current, address);
    const { db, sessions } = this.parts;
    await this.#setPassword(member.id, given.password, async (transaction) => {
      await db.rows(END_PROOFS, [member.id], transaction);
      await sessions.endOf(member.id, { allBut: session }, transaction);
    });
    await this.tellOfChange(member, "The password of your account has changed.");
  }

  /** Mails a link to another address, which is theirs once that was opened. @throws {Problem} 409 where it is taken */
  async askAddress(member: SignedIn, given: { current: string; email: string }, address: string): Promise<void> {
    await this.parts.limits.take("code", { viewer: member.id, address });
    await this.requirePassword(member, given.current, address);
    await this.#mailProof(
      { ...member, email: given.email },
      "wants to sign in to Clear Nod with this address from now on.",
    );
  }

  /** Mails somebody a link that proves the address that they have. Nothing where one was sent just now. */
  async askProof(personId: string): Promise<void> {
    const person = await this.parts.db.models.Person.findByPk(personId, { attributes: ["id", "name", "email"] });
    if (person) await this.#mailProof(person, "wants to mail others from Clear Nod, who answer to this address.");
  }

  /** The address that a link would prove. @throws {Problem} 404 where it proves nothing any more */
  addressOf(token: string): Promise<Proved> {
    return this.#look(PROOF, "address", token);
  }

  /**
   * The address is theirs. The one before is told so, and can undo it; no other letter that was asked for proves
   * anything any more.
   * @param by who confirms it: whoever has the letter alone may be anybody who reads that mail
   * @throws {Problem} 404, 401 where somebody else is signed in, or 409 where somebody has the address already
   */
  async confirmAddress(token: string, by: Pick<SignedIn, "id"> | null): Promise<string> {
    const { db, sessions } = this.parts;
    const { personId, address, name, email } = await this.addressOf(token);
    if (by?.id !== personId)
      throw new Problem(401, "not-signed-in", `Sign in as ${name} first, with the address used until now.`);
    if (address === email) {
      // The one that they have: nothing changes but that it is known to be theirs.
      await db.sequelize.transaction(async (transaction) => {
        await this.#look(USE_PROOF, "address", token, transaction);
        await db.models.Person.update({ provedAt: new Date() }, { where: { id: personId }, transaction });
      });
      return address;
    }
    const undo = nanoid(32);
    let isBack = false;
    await this.#changeAddress(personId, address!, async (transaction) => {
      await this.#look(USE_PROOF, "address", token, transaction);
      await db.rows(END_PROOFS, [personId], transaction);
      isBack = (await db.rows(END_UNDO_SINCE, [personId, address], transaction)).length > 0;
      if (!isBack) await db.rows(PUT_UNDO, [personId, this.#hash(undo), email, UNDO_DAYS], transaction);
    });
    await sessions.changed(personId);
    const putBack = {
      words: "It was not me: put my address back",
      url: `${this.settings.publicUrl}/undo/${undo}`,
      foot: `The link is open for ${UNDO_DAYS} days. If it was you, there is nothing to do.`,
    };
    const words = `You sign in with ${address} from now on.`;
    await this.tellOfChange({ name, email }, words, isBack ? undefined : putBack);
    return address!;
  }

  /** Whose address a link would put back. @throws {Problem} 404 where it does not any more */
  ofUndo(token: string): Promise<Proved> {
    return this.#look(PROOF, "undo", token);
  }

  /**
   * Puts an address back that was changed by somebody else: they know the password, so everybody is signed out, and
   * whoever has the letter chooses another one.
   * @returns what stands in the link to a new password
   * @throws {Problem} 404, or 409 where somebody has the address by now
   */
  async undoAddress(token: string): Promise<string> {
    const { db, sessions } = this.parts;
    const { personId, address } = await this.ofUndo(token);
    const reset = nanoid(32);
    await this.#changeAddress(personId, address!, async (transaction) => {
      // Two presses at once put it back once.
      if ((await db.rows(END_UNDO_SINCE, [personId, address], transaction)).length === 0) throw notOpen();
      await db.rows(END_PROOFS, [personId], transaction);
      await db.rows(PUT_PROOF, [personId, "reset", this.#hash(reset), null, MINUTES.reset], transaction);
      await sessions.endOf(personId, { allBut: null }, transaction);
    });
    return reset;
  }

  /** @throws {Problem} 409 where somebody has the address */
  async #changeAddress(id: string, email: string, also: (transaction: Transaction) => Promise<unknown>): Promise<void> {
    const { db } = this.parts;
    try {
      await db.sequelize.transaction(async (transaction) => {
        await also(transaction);
        await db.models.Person.update({ email, provedAt: new Date() }, { where: { id }, transaction });
      });
    } catch (cause) {
      if (!(cause instanceof UniqueConstraintError)) throw cause;
      throw new Problem(409, "email-taken", "This address has an account already.");
    }
  }

  /**
   * Mails a link to a new password, where the address has an account. Says nothing of whether it has, in words or in
   * time. @throws {Problem} 429 after many
   */
  async forgot(email: string, address: string): Promise<void> {
    await this.parts.limits.take("code", { viewer: `${email} ${address}`, address });
    this.#afterwards.do(() => this.#mailReset(email));
  }

  /** Whose password a link would set. @throws {Problem} 404 where it sets none any more */
  ofReset(token: string): Promise<Proved> {
    return this.#look(PROOF, "reset", token);
  }

  /** What acts for them besides, and would end. */
  accessesOf(personId: string): Promise<AccessGiven[]> {
    return this.parts.db.rows<AccessGiven>(ACCESSES, [personId]);
  }

  /**
   * Sets another password, once. Every sign-in ends, every letter that was asked for, and all that acts for them: who
   * had the account may have made it.
   * @param kept ids of what goes on acting for them
   * @returns who it is
   */
  async reset(
    token: string,
    { password, kept }: { password: string; kept: readonly string[] },
  ): Promise<{ personId: string; email: string }> {
    const { db, sessions } = this.parts;
    const { personId, name, email } = await this.ofReset(token);
    await this.#setPassword(personId, password, async (transaction) => {
      await this.#look(USE_PROOF, "reset", token, transaction);
      await db.models.Person.update({ provedAt: new Date() }, { where: { id: personId, email }, transaction });
      // Whoever took the account may have moved it, and reset it there: its owner can still have it back.
      await db.rows(END_PROOFS, [personId], transaction);
      for (const statement of END_ACCESSES) await db.rows(statement, [personId, kept], transaction);
      await sessions.endOf(personId, { allBut: null }, transaction);
    });
    await this.tellOfChange({ name, email }, "The password of your account has changed.");
    return { personId, email };
  }

  /** Ends when every letter that was asked for is on its way. */
  settled = (): Promise<void> => this.#afterwards.settled();

  async #mailReset(email: string): Promise<void> {
    const { db, post } = this.parts;
    const person = await db.models.Person.findOne({ where: { email } });
    const token = person && (await this.#prove(person.id, "reset", null));
    if (!token) return;
    const id = await post.write({
      kind: "reset",
      to: { address: email, name: person.name },
      from: null,
      letter: {
        subject: "A new password for Clear Nod",
        title: "A new password",
        paragraphs: ["Somebody, you we hope, has forgotten the password of your account."],
        link: { words: "Choose a new one", url: `${this.settings.publicUrl}/reset/${token}` },
        foot: ["The link is open for an hour. If it was not you, do nothing: your password stays as it is."],
      },
    });
    await post.carryLater([id]);
  }

  /**
   * Mails somebody a link that proves an address. Nothing where it was sent there just now.
   * @param wants why, after their name
   */
  async #mailProof({ id, name, email }: Pick<SignedIn, "id" | "name" | "email">, wants: string): Promise<void> {
    const token = await this.#prove(id, "address", email);
    if (!token) return;
    const mailId = await this.parts.post.write({
      kind: "address",
      to: { address: email, name },
      from: null,
      letter: {
        subject: "Is this your address?",
        title: "Is this your address?",
        paragraphs: [`${name} ${wants}`],
        link: { words: "Yes, it is mine", url: `${this.settings.publicUrl}/confirm/${token}` },
        foot: ["The link is open for a day. If it was not you, do nothing."],
      },
    });
    await this.parts.post.carryLater([mailId]);
  }

  /** @returns what stands in the link; null where one was sent just now */
  async #prove(personId: string, kind: keyof typeof MINUTES, address: string | null): Promise<string | null> {
    const token = nanoid(32);
    const made = await this.parts.db.rows(PUT_PROOF, [personId, kind, this.#hash(token), address, MINUTES[kind]]);
    return made.length > 0 ? token : null;
  }

  async #look(statement: string, kind: ProofKind, token: string, transaction?: Transaction): Promise<Proved> {
    const [proved] = await this.parts.db.rows<Proved>(statement, [kind, this.#hash(token)], transaction);
    if (!proved) throw notOpen();
    return proved;
  }

  /** @throws {Problem} 422 where it is not their password, 429 after many wrong ones */
  async requirePassword({ id }: SignedIn, password: string, address: string): Promise<void> {
    const from = { viewer: id, address };
    await this.parts.limits.take("ownPassword", from);
    const person = await this.parts.db.models.Person.findByPk(id);
    if (!(await isPassword(person?.passwordHash ?? null, password, { lane: "own", one: id })))
      throw new Problem(422, "wrong-password", "That is not the password that you have now.");
    await this.parts.limits.giveBack("ownPassword", from);
  }

  /** @param also what is done with it, or not at all */
  async #setPassword(id: string, password: string, also: (transaction: Transaction) => Promise<unknown>) {
    const { db } = this.parts;
    const passwordHash = await hashPassword(password, { lane: "own", one: id });
    await db.sequelize.transaction(async (transaction) => {
      await also(transaction);
      await db.models.Person.update({ passwordHash }, { where: { id }, transaction });
    });
  }

  /** Mails somebody that their account has ended: there is nothing left that a link could lead to. */
  async tellOfEnd({ name, email }: Pick<SignedIn, "name" | "email">): Promise<void> {
    const { post } = this.parts;
    const title = "Your account has ended";
    const paragraphs = [
      "Your account at Clear Nod was deleted, as you asked. You cannot sign in any more.",
      "If it was not you, tell whoever runs this server at once: they may be able to restore it from a backup.",
    ];
    const to = { address: email, name };
    const id = await post.write({
      kind: "changed",
      to,
      from: null,
      letter: { subject: title, title, paragraphs, foot: [] },
    });
    await post.carryLater([id]);
  }

  /** Mails somebody what has changed of their account. @param link what they can do where it was not them */
  async tellOfChange(
    { name, email }: Pick<SignedIn, "name" | "email">,
    words: string,
    link = {
      words: "It was not me",
      url: `${this.settings.publicUrl}/forgot`,
      foot: "If it was you, there is nothing to do.",
    },
  ): Promise<void> {
    const { post } = this.parts;
    const id = await post.write({
      kind: "changed",
      to: { address: email, name },
      from: null,
      letter: {
        subject: "Your account has changed",
        title: "Your account has changed",
        paragraphs: [words],
        link: { words: link.words, url: link.url },
        foot: [link.foot],
      },
    });
    await post.carryLater([id]);
  }

  #hash(token: string): Buffer {
    return createHmac("sha256", this.settings.sessionSecret).update(`proof ${token}`).digest();
  }
}

/** Of a link out of a letter that does nothing any more. */
export const notOpen = () => new Problem(404, "not-open", "This link is too old, or was used. Ask for another one.");
