import type { Logger } from "pino";
import type { Transaction } from "sequelize";
import { sayAnswer } from "#core/answers/kinds";
import { noticeLetter, type Notice } from "#core/notices/letter";
import { pushWords } from "#core/notices/push";
import { APART_MS, tellAt, type NoticeKind, type NoticeWishes } from "#core/notices/wishes";
import { kindOf, type Inbox, type Waiting } from "../answers/inbox";
import type { Database } from "../database/connection";
import type { NewMail, Post } from "../mail/post";
import { CLIENTS_DUE, DUE, NEWS_DUE, NEWS_OF, PEOPLE_DUE, PUT_DUE, PUT_NEWS_DUE, TELL_OF_SILENCE } from "./sql";
import type { Wishes } from "./wishes";

/** So many people are told between two looks at whether the work is still wanted. */
const BATCH = 50;
/** Of so many things a letter is made; core shortens it further. */
const MOST_TOLD = 300;

/** Something of which it is due to decide whether it is told. Moments in ms since 1970. */
interface Due {
  subject: string;
  kind: NoticeKind;
  at: number;
  opensAt: number | null;
}
type When = Pick<NoticeWishes, "zone" | "quiet"> & { mail: Partial<NoticeWishes["mail"]> };

/** Tells people by mail what is new for them: each thing once, and when they want it. */
export class Teller {
  constructor(
    private readonly parts: { db: Database; inbox: Inbox; wishes: Wishes; post: Post; log: Logger },
    private readonly publicUrl: string,
  ) {}

  /** Everybody of whom something is due. @returns how many were mailed */
  async tell(signal: AbortSignal): Promise<number> {
    const { db } = this.parts;
    await db.rows(TELL_OF_SILENCE);
    const people = await this.#each(PEOPLE_DUE, signal, (id, transaction) => this.#person(id, transaction));
    const clients = await this.#each(CLIENTS_DUE, signal, (id, transaction) => this.#client(id, transaction));
    return people + clients;
  }

  /** A letter and the fact that it was written are one transaction: nothing is told twice, and nothing is left out. */
  async #each(
    whose: string,
    signal: AbortSignal,
    write: (id: string, transaction: Transaction) => Promise<string | null>,
  ): Promise<number> {
    const { db, post, log } = this.parts;
    const seen = new Set<string>();
    for (let mailed = 0; ;) {
      const due = (await db.rows<{ id: string }>(whose, [BATCH])).filter(({ id }) => !seen.has(id));
      if (due.length === 0) return mailed;
      for (const { id } of due) {
        signal.throwIfAborted();
        seen.add(id);
        try {
          const mail = await db.sequelize.transaction((transaction) => write(id, transaction));
          if (!mail) continue;
          await post.carryLater([mail]);
          mailed++;
        } catch (err) {
          // The others are told all the same; this is tried again by the next run.
          log.error({ err, id }, "not told");
        }
      }
    }
  }

  async #person(id: string, transaction: Transaction): Promise<string | null> {
    const { db, inbox, wishes, post } = this.parts;
    const due = await db.rows<Due>(DUE, [id], transaction);
    const person = await db.models.Person.findByPk(id, { transaction });
    if (!person) return null;
    const wish = await wishes.of(id);
    const { now, bind } = sorted(due, wish, person.toldAt);
    await db.rows(PUT_DUE, [id, ...bind], transaction);
    const told = await inbox.these(id, now.slice(0, MOST_TOLD), { transaction });
    if (told.length === 0) return null;
    await person.update({ toldAt: new Date() }, { transaction });
    const to = { address: person.email, name: person.name };
    const more = now.length - MOST_TOLD;
    const notices = told.map((one) => this.#notice(one));
    const answers = `${this.publicUrl}/answers`;
    const mail = this.#mail(to, notices, { words: "Open Answers", url: answers }, [
      ...(more > 0 ? [`${more} more wait in Answers.`] : []),
      `When and of what you are told is chosen in your account: ${this.publicUrl}/account#notices`,
    ]);
    // What was gathered is for reading at leisure.
    const isSoon = told.every((one) => wish.mail[kindOf(one)] === "now");
    return post.write(isSoon ? { ...mail, push: { personId: id, ...pushWords(notices, answers) } } : mail, transaction);
  }

  async #client(id: string, transaction: Transaction): Promise<string | null> {
    const { db, post } = this.parts;
    const client = await db.models.FolderPerson.findByPk(id, { transaction });
    const due = await db.rows<Due>(NEWS_DUE, [id], transaction);
    if (!client) return null;
    const { email, zone, news, name, key, pass, toldAt } = client;
    const { now, bind } = sorted(due, { mail: { folder: email ? news : "never" }, zone, quiet: null }, toldAt);
    await db.rows(PUT_NEWS_DUE, [id, ...bind], transaction);
    const told = await db.rows<{ token: string; title: string; who: string; folder: string }>(
      NEWS_OF,
      [now.slice(0, MOST_TOLD), pass],
      transaction,
    );
    if (told.length === 0) return null;
    await client.update({ toldAt: new Date() }, { transaction });
    const link = `${this.publicUrl}/for/${key}`;
    const notices = told.map(({ token, title, who, folder }): Notice => {
      return { kind: "folder", title, url: `${link}?to=${token}`, who, words: folder, at: null };
    });
    return post.write(
      this.#mail({ address: email!, name }, notices, { words: "Open the folder", url: link }, [
        "The links are yours: whoever has them sees what is in the folder. Do not pass them on.",
        "How often you are told is chosen on the page of the folder.",
      ]),
      transaction,
    );
  }

  #mail(to: NewMail["to"], notices: Notice[], all: { words: string; url: string }, foot: string[]): NewMail {
    return { kind: "notice", to, from: null, letter: noticeLetter(notices, { all, foot }) };
  }

  #notice({ kind, title, token, who, words, at, answer, ask }: Waiting): Notice {
    return {
      kind: kindOf({ kind }),
      title,
      url: `${this.publicUrl}/w/${token}`,
      who,
      words: kind === "answer" && answer && ask ? sayAnswer(ask, answer) : words,
      at,
    };
  }
}

/**
 * What of this is told now; and, as parameters of a query, when the rest is looked at again, or never.
 * @param toldAt when they were mailed last
 */
function sorted(
  due: readonly Due[],
  { mail, ...clock }: When,
  toldAt: Date | null,
): { now: string[]; bind: [string[], (number | null)[]] } {
  const present = Date.now();
  const from = Math.max(present, toldAt ? toldAt.getTime() + APART_MS : 0);
  const now: string[] = [];
  const at = due.map(({ subject, kind, at, opensAt }) => {
    // What is not open yet is news when it opens.
    const moment = tellAt(mail[kind] ?? "never", Math.max(at, opensAt ?? 0), clock, from);
    if (moment === null || moment > present) return moment;
    now.push(subject);
    return null;
  });
  return { now, bind: [due.map(({ subject }) => subject), at] };
}
