import Joi from "joi";
import type { Transaction } from "sequelize";
import type { Answer, Ask } from "#core/answers/kinds";
import { SHOWS, type Show } from "#core/answers/shows";
import { asksSomething } from "#core/answers/text";
import { parseRecipe } from "#core/recipe/recipe";
import { ShownLine } from "#core/recipe/shown-line";
import type { NoticeKind } from "#core/notices/wishes";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { shownAnswer } from "./asks";
import { OWED, said, SAID_OF, UNREAD } from "./sql";
import { readJsonCursor, timestampField, uuidField, writeJsonCursor } from "../http/fields";

/**
 * What waits for a member: said by others on their recordings and in their threads, and what they are asked and have
 * not answered.
 */
export interface Waiting {
  /** the comment, answer, reaction or invitation */
  subject: string;
  kind: NoticeKind | "question";
  token: string;
  title: string;
  hasPoster: boolean;
  /** who said it; for what is owed, who asks. Null for an unnamed guest, and for what nobody did */
  who: string | null;
  /** without an account: anybody can call themselves anything */
  guest: boolean;
  /** what was said; the name of a folder, the kind of a reaction, why something failed, when it goes */
  words: string;
  at: Micros | null;
  /** null when it answers what was asked before */
  answer: Answer | null;
  ask: Ask | null;
  when: string;
  unread: boolean;
  /** the thread to reply in */
  thread: string | null;
}

/** Of what somebody is told there: a question is a comment. */
export const kindOf = ({ kind }: Pick<Waiting, "kind">): NoticeKind => (kind === "question" ? "comment" : kind);

export const inboxQuery = Joi.object({
  show: Joi.string()
    .valid(...SHOWS)
    .default("all"),
  after: Joi.string().max(200).default(null),
});
export interface InboxQuery {
  show: Show;
  /** where the page before ended; null for the first one */
  after: string | null;
}
export interface InboxPage {
  waiting: Waiting[];
  /** where the next page begins; null at the end */
  next: string | null;
}
export const readForm = Joi.object({
  do: Joi.string().valid("read", "unread").required(),
  subjects: Joi.array().items(uuidField).min(1).max(300).required(),
});

const PAGE = 50;
/** What one owes is listed whole, before everything else; nobody owes more than this. */
const MOST_OWED = 300;
const MOST_COUNTED = 100;

type Row = Omit<Waiting, "when" | "kind"> & {
  kind: NoticeKind;
  when: Date;
  position: string;
  /** what the recording shows now */
  recipe: unknown;
};

/** Its moments as they are shown; null for one whose stretch is left out. */
function asShown<T extends Pick<Row, "at" | "answer">>(row: T, line: ShownLine): T {
  const place = row.at === null ? null : line.toShown(row.at);
  return { ...row, at: place?.kept ? place.shown : null, answer: shownAnswer(line, row.answer) };
}

function toWaiting({ position: _, recipe, ...raw }: Row): Waiting {
  const row = asShown(raw, new ShownLine(parseRecipe(recipe), Infinity));
  const asks = row.kind === "comment" && asksSomething(row.words);
  return { ...row, kind: asks ? "question" : row.kind, when: row.when.toISOString() };
}

/** The Answers place of a member. */
export class Inbox {
  constructor(private readonly db: Database) {}

  async page(personId: string, { show, after }: InboxQuery): Promise<InboxPage> {
    // What is owed stands on the first page, in its own order.
    const withOwed = after === null && (show === "all" || show === "unread" || show === "owed");
    const [owed, said] = await Promise.all([
      withOwed ? this.#owed(personId) : [],
      show === "owed" ? { waiting: [], next: null } : this.#said(personId, show, readCursor(after)),
    ]);
    return { waiting: [...owed.filter((w) => show !== "unread" || w.unread), ...said.waiting], next: said.next };
  }

  /** How much of it is new; what is owed counts until it is answered or read. */
  async unread(personId: string): Promise<number> {
    const [row] = await this.db.rows<{ count: number }>(UNREAD, [personId, MOST_COUNTED]);
    return row!.count;
  }

  async mark(personId: string, { do: deed, subjects }: { do: "read" | "unread"; subjects: string[] }): Promise<void> {
    const readAt = deed === "read" ? new Date() : null;
    // What was read is not mailed any more.
    const values = { readAt, ...(readAt && { dueAt: null }) };
    await this.db.models.InboxItem.update(values, { where: { personId, subject: subjects } });
  }

  /** Some of what is new, the oldest first, as far as they may still see it. */
  async these(
    personId: string,
    subjects: string[],
    { transaction, readToo = false }: { transaction?: Transaction; readToo?: boolean } = {},
  ): Promise<Waiting[]> {
    const rows = await this.db.rows<Row>(SAID_OF, [personId, subjects, readToo], transaction);
    return rows.map(toWaiting);
  }

  async #said(personId: string, show: Exclude<Show, "owed">, after: [string, string] | null): Promise<InboxPage> {
    const bind = [personId, PAGE + 1, ...(after ?? [])];
    const rows = await this.db.rows<Row>(said(show, after !== null), bind);
    const last = rows.length > PAGE ? rows[PAGE - 1]! : null;
    const waiting = rows.slice(0, PAGE).map(toWaiting);
    return {
      waiting: show === "questions" ? waiting.filter((w) => w.kind === "question") : waiting,
      next: last && writeJsonCursor(last.position, last.subject),
    };
  }

  async #owed(personId: string): Promise<Waiting[]> {
    const rows = await this.db.rows<Omit<Waiting, "when"> & { when: Date }>(OWED, [personId, MOST_OWED]);
    return rows.map((row) => ({ ...row, when: row.when.toISOString() }));
  }
}

const cursor = Joi.array().ordered(timestampField.required(), uuidField.required());

function readCursor(text: string | null): [string, string] | null {
  return text === null ? null : (readJsonCursor(text, cursor) as [string, string]);
}
