import { createHmac, randomUUID, timingSafeEqual } from "node:crypto";
import type { Transaction } from "sequelize";
import { REFUSALS, refusalOf, type MailKind, type Refusal } from "#core/mail/kinds";
import { letterHtml, letterText, type Letter } from "#core/mail/letter";
import { PUSH_WITHIN_MS, type PushWords } from "#core/notices/push";
import type { Database } from "../database/connection";
import type { Mail } from "../database/models/mail";
import { Problem } from "../http/problem";
import type { Push } from "../notices/push";
import { Bounced, type Carrier } from "./carrier";
import { CLAIM_MAIL, FORGOTTEN_MAILS, KEPT_MAILS, LETTERS_OF_A_KIND, LETTERS_OF_OTHERS, REFUSE } from "./sql";

/** What is to be mailed, and to whom. `letter` gets the address at which no more of it is wanted. */
export interface NewMail {
  kind: MailKind;
  to: { address: string; name: string | null };
  /** whoever is answered; their name stands beside ours */
  from: { id: string; name: string; address: string } | null;
  letter: Letter;
  recordingId?: string;
  inviteId?: string;
  /** what browsers of somebody are told instead, where one of them shows it in time */
  push?: PushWords & { personId: string };
}

/** A mail as the page *Post* shows it. */
export interface KeptMail {
  id: string;
  kind: MailKind;
  toAddress: string;
  toName: string | null;
  subject: string;
  text: string | null;
  html: string | null;
  madeAt: Date;
  sentAt: Date | null;
  failed: string | null;
  shownAt: Date | null;
}

/** So many are shown, or looked for, at once. */
const SHOWN = 100;
/** What is left of the words of a mail that is over. */
const NO_WORDS = { text: null, html: null, push: null };
/** What browsers were told is not waited for any longer: it has arrived by then, or never will. */
const PUSHED_MS = PUSH_WITHIN_MS + 60_000;

/** So many letters that others have sent somebody gets within so many hours: a busy week's day of a client. */
const MOST_OF_OTHERS = 40;
const MOST_HOURS = 24;
/** The same letter is sent so many times within an hour: once, and again where it did not come. */
const MOST_OF_A_KIND = 3;

/** Everything that is mailed: written down first, carried by a job, tried again, and noted when it came back. */
export class Post {
  constructor(
    private readonly db: Database,
    private readonly carrier: Carrier,
    private readonly settings: { publicUrl: string; sessionSecret: string },
    private readonly later: (mailId: string) => Promise<unknown>,
    /** what became of a mail to somebody who is named at a recording is known */
    private readonly noted: (recordingId: string) => Promise<void>,
    private readonly push: Pick<Push, "tell">,
  ) {}

  /** Mails somebody a link that proves their address. */
  askProof: (personId: string) => Promise<void> = () => Promise.resolve();

  /** Whether what is sent stays here, to be looked at. */
  get keepsWords(): boolean {
    return this.carrier.keepsWords;
  }

  /** Whether what is sent leaves the house. */
  get delivers(): boolean {
    return this.carrier.delivers;
  }

  /**
   * Writes a mail down. It is carried once `carryLater` is told of it, after the transaction.
   * @returns its id
   * @throws {Problem} 429 where whoever it is for got very many that others have sent; 403 where the address of whoever
   *   sends is not proved
   */
  async write(
    { kind, to, from, letter, recordingId, inviteId, push }: NewMail,
    transaction?: Transaction,
  ): Promise<string> {
    if (from && this.carrier.delivers) await this.#requireProved(from);
    if (from) await this.#requireRoom({ kind, to: to.address, from: from.id, subject: letter.subject }, transaction);
    const refusal = refusalOf(kind);
    const stop = refusal && { words: "No more mail like this", url: this.#stopUrl(to.address, refusal) };
    const whole = stop ? { ...letter, stop } : letter;
    const { id } = await this.db.models.Mail.create(
      {
        id: randomUUID(),
        kind,
        toAddress: to.address,
        toName: to.name,
        sender: from && { name: from.name, address: from.address },
        senderId: from?.id ?? null,
        subject: letter.subject,
        text: letterText(whole),
        html: letterHtml(whole),
        recordingId,
        inviteId,
        push,
      },
      { transaction },
    );
    return id;
  }

  async carryLater(mailIds: readonly string[]): Promise<void> {
    for (const id of mailIds) await this.later(id);
  }

  /**
   * Asks once more for what was written down by a process that ended before it had asked for it, and for what no
   * browser has shown in its time.
   */
  async carryForgotten(): Promise<void> {
    const forgotten = await this.db.rows<{ id: string }>(FORGOTTEN_MAILS, [SHOWN, PUSHED_MS]);
    await this.carryLater(forgotten.map(({ id }) => id));
  }

  /**
   * Carries one, unless it is sent already or was refused; where browsers may show it instead, once they had time.
   * @throws for what may be tried again
   */
  async carry(mailId: string): Promise<void> {
    const mail = await this.db.models.Mail.findByPk(mailId);
    if (!mail || mail.sentAt || mail.text === null || mail.html === null) return;
    const { kind, toAddress, text, html } = mail;
    if (mail.push && (await this.#waitsForBrowsers(mail, mail.push))) return;
    const refusal = refusalOf(kind);
    if (refusal && (await this.refuses(toAddress, refusal))) {
      await mail.update({ failed: "They want no mail from here.", ...NO_WORDS });
      return void (await this.#note(mail.inviteId, { bounced: "They want no mail from here." }));
    }
    const { id, toName, subject, sender } = mail;
    const [claimed] = await this.db.rows(CLAIM_MAIL, [id]);
    if (!claimed) return;
    try {
      const carried = { id, kind, toAddress, toName, sender, subject, text, html };
      await this.carrier.carry(carried, refusal && this.#stopUrl(toAddress, refusal));
    } catch (cause) {
      const bounced = cause instanceof Bounced;
      const failed = bounced ? cause.message : "The mail server cannot be reached yet.";
      // Not by the row as it was read, which knows nothing of the claim.
      await this.db.models.Mail.update({ failed, claimedAt: null, ...(bounced && NO_WORDS) }, { where: { id } });
      if (!bounced) throw cause;
      return void (await this.#note(mail.inviteId, { bounced: `It came back: ${failed}` }));
    }
    await mail.update({ sentAt: new Date(), failed: null, ...this.#erased });
    await this.#note(mail.inviteId, { mailedAt: new Date(), bounced: null });
  }

  /** A browser of somebody has shown what a mail says: it is not sent any more. */
  async shown(personId: string, mailId: string): Promise<void> {
    const now = new Date();
    await this.db.models.Mail.update(
      { shownAt: now, sentAt: now, ...this.#erased },
      { where: { id: mailId, sentAt: null, push: { personId } } },
    );
  }

  /** Who mails others has shown that they can be answered. @throws {Problem} 403; they are sent what proves it */
  async #requireProved({ id, address }: { id: string; address: string }): Promise<void> {
    const person = await this.db.models.Person.findByPk(id, { attributes: ["provedAt"] });
    if (!person || person.provedAt) return;
    await this.askProof(id);
    throw new Problem(
      403,
      "unproved",
      `Nothing was sent yet. We have sent a letter to ${address}: open its link, so that we know it is yours, and then send this again.`,
    );
  }

  /** Nobody's letter box is filled with the words of others, however many accounts they make. */
  async #requireRoom(
    { kind, to: address, from, subject }: { kind: MailKind; to: string; from: string; subject: string },
    transaction?: Transaction,
  ): Promise<void> {
    const same = [address, kind, from, subject];
    const [again] = await this.db.rows<{ count: number }>(LETTERS_OF_A_KIND, same, transaction);
    if (again!.count >= MOST_OF_A_KIND)
      throw new Problem(
        429,
        "sent-again",
        `You have sent ${address} this ${MOST_OF_A_KIND} times within an hour. Nothing was sent: wait, or copy the link instead.`,
        { retryAfter: 3_600 },
      );
    const [row] = await this.db.rows<{ count: number }>(LETTERS_OF_OTHERS, [address, MOST_HOURS], transaction);
    if (row!.count >= MOST_OF_OTHERS)
      throw new Problem(
        429,
        "many-letters",
        `${address} got ${MOST_OF_OTHERS} letters within a day already. Nothing was sent: leave this address out, or copy the link instead.`,
        { retryAfter: 3_600 },
      );
  }

  /** The newest mails, for looking at. @throws {Problem} 404 where they are really sent */
  async kept(): Promise<KeptMail[]> {
    if (!this.keepsWords) throw new Problem(404, "not-found", "There is nothing at this address.");
    return this.db.rows<KeptMail>(KEPT_MAILS, [SHOWN]);
  }

  async refuses(address: string, what: Refusal): Promise<boolean> {
    return (await this.db.models.MailRefusal.findOne({ where: { address, what } })) !== null;
  }

  /** Whose mail an unsubscribing link ends, and which. @throws {Problem} 404 for one that was made up */
  refusalBy(link: string): { address: string; what: Refusal } {
    const [text = "", sign = "", what = "sent"] = link.split(".");
    const address = Buffer.from(text, "base64url").toString("utf8");
    const known = REFUSALS.find((one) => one === what);
    const right = Buffer.from(known ? this.#sign(address, known) : "");
    const given = Buffer.from(sign);
    if (!known || given.length !== right.length || !timingSafeEqual(given, right))
      throw new Problem(404, "not-found", "There is nothing at this address.");
    return { address, what: known };
  }

  /** Somebody wants no more mail, or wants it again. */
  async setRefusal(link: string, refuses: boolean): Promise<void> {
    const { address, what } = this.refusalBy(link);
    if (refuses) await this.db.rows(REFUSE, [address, what]);
    else await this.wantsAgain(address, what);
  }

  /** Somebody has said in another way that they want it. */
  async wantsAgain(address: string, what: Refusal): Promise<void> {
    await this.db.models.MailRefusal.destroy({ where: { address, what } });
  }

  /** What is removed of a mail once it is sent. */
  get #erased() {
    return this.carrier.keepsWords ? { push: null } : NO_WORDS;
  }

  /** Browsers were told, or are told now, and have time to show it. Told twice, they show it once. */
  async #waitsForBrowsers(mail: Mail, { personId, ...words }: PushWords & { personId: string }): Promise<boolean> {
    if (mail.pushedAt) return Date.now() < mail.pushedAt.getTime() + PUSHED_MS;
    if (!(await this.push.tell(personId, { id: mail.id, ...words }))) return false;
    await mail.update({ pushedAt: new Date() });
    return true;
  }

  #stopUrl(address: string, what: Refusal): string {
    const link = `${Buffer.from(address).toString("base64url")}.${this.#sign(address, what)}`;
    return `${this.settings.publicUrl}/no-mail/${link}${what === "sent" ? "" : `.${what}`}`;
  }

  #sign(address: string, what: Refusal): string {
    const said = what === "sent" ? `no mail ${address}` : `no ${what} ${address}`;
    return createHmac("sha256", this.settings.sessionSecret).update(said).digest("base64url").slice(0, 22);
  }

  async #note(inviteId: string | null, note: { mailedAt?: Date; bounced: string | null }): Promise<void> {
    if (!inviteId) return;
    const [, [invite]] = await this.db.models.Invite.update(note, { where: { id: inviteId }, returning: true });
    if (invite) await this.noted(invite.recordingId);
  }
}
