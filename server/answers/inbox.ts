import Joi from "joi";
import type { Answer, Ask } from "#core/answers/kinds";
import { SHOWS, type Show } from "#core/answers/shows";
import { asksSomething } from "#core/answers/text";
import { maySql } from "#core/access/access-sql";
import { parseRecipe } from "#core/recipe/recipe";
import { ShownLine } from "#core/recipe/shown-line";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { VIEWER_NAMES } from "./viewers";
import { ASK_JSON, shownAnswer } from "./asks";
import { readJsonCursor, timestampField, uuidField, writeJsonCursor } from "../http/fields";

/**
 * What waits for a member: said by others on their recordings and in their threads, and what they are asked and have
 * not answered.
 */
export interface Waiting {
  /** the comment, answer, reaction or invitation */
  subject: string;
  kind: "comment" | "question" | "reply" | "not-clear" | "answer" | "owed";
  token: string;
  title: string;
  hasPoster: boolean;
  /** who said it; for what is owed, who asks. Null for an unnamed guest */
  who: string | null;
  /** without an account: anybody can call themselves anything */
  guest: boolean;
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

/** The recordings that person $1 may open. Being a colleague opens nothing that is not open to all. */
const OPEN_TO_MEMBER = maySql("watch", { person: "$1", workspaces: "'{}'::uuid[]" });

/** What is asked of member $1 and waits for an answer to what is asked now. */
const OWED = `
  from invites i
  join recordings r on r.id = i.recording_id
  join asks a on a.recording_id = r.id
  join people o on o.id = r.owner_id
  left join inbox b on b.person_id = $1 and b.subject = i.id
 where i.person_id = $1 and not a.closed and ${OPEN_TO_MEMBER}
   and not exists (select 1 from viewers v join answers n on n.viewer_id = v.id
                    where v.recording_id = r.id and v.person_id = $1 and n.ask_version = a.version)`;

/** Of what is said, which is shown. The question marks are looked for more closely afterwards. */
const WHERE: Record<Exclude<Show, "owed">, string> = {
  all: "true",
  unread: "b.read_at is null",
  unclear: "(b.kind = 'reaction' or n.answer ->> 'kind' = 'not-clear')",
  questions: "b.kind = 'comment' and c.body ~ '[?？؟]'",
};

type Row = Omit<Waiting, "when" | "kind"> & {
  kind: Waiting["kind"] | "reaction";
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
    const [row] = await this.db.rows<{ count: number }>(
      `select ((select count(*) from (
                  select 1 from inbox b join recordings r on r.id = b.recording_id
                   where b.person_id = $1 and b.read_at is null and b.kind <> 'owed' and ${OPEN_TO_MEMBER}
                   limit ${MOST_COUNTED}) said)
             + (select count(*) ${OWED} and b.read_at is null))::int as count`,
      [personId],
    );
    return row!.count;
  }

  async mark(personId: string, { do: deed, subjects }: { do: "read" | "unread"; subjects: string[] }): Promise<void> {
    await this.db.rows(
      `update inbox set read_at = case when $3 then now() end
        where person_id = $1 and subject = any($2::uuid[]) returning subject`,
      [personId, subjects, deed === "read"],
    );
  }

  async #said(personId: string, show: Exclude<Show, "owed">, after: [string, string] | null): Promise<InboxPage> {
    const rows = await this.db.rows<Row>(
      `select b.subject, r.token, r.title, r.poster_key is not null as "hasPoster",
              case when n.answer ->> 'kind' = 'not-clear' then 'not-clear' else b.kind end as kind,
              case when v.named or b.kind <> 'reaction' then coalesce(c.imported_from, m.name, g.name) end as who,
              v.person_id is null and c.imported_from is null as guest,
              case when c.id is not null then c.body
                   when n.id is null then ''
                   when n.ask_version is distinct from a.version then 'An answer to what you asked before.'
                   else coalesce(n.answer ->> 'words', '') end as words,
              coalesce(c.at_us, x.at_us, (n.answer ->> 'at')::bigint) as at, s.recipe,
              case when n.ask_version = a.version then n.answer end as answer, ${ASK_JSON} as ask,
              b.at as "when", b.at::text as position, b.read_at is null as unread,
              coalesce(c.reply_to, c.id) as thread
         from inbox b
         join recordings r on r.id = b.recording_id
         left join comments c on b.kind in ('comment', 'reply') and c.id = b.subject
         left join answers n on b.kind = 'answer' and n.id = b.subject
         left join reactions x on b.kind = 'reaction' and x.id = b.subject
         join viewers v on v.id = coalesce(c.viewer_id, n.viewer_id, x.viewer_id)
         ${VIEWER_NAMES}
         left join asks a on a.recording_id = r.id
         join lateral (select recipe from revisions where recording_id = r.id order by number desc limit 1) s on true
        where b.person_id = $1 and b.kind <> 'owed' and ${OPEN_TO_MEMBER} and ${WHERE[show]}
          ${after ? "and (b.at, b.subject) < ($3::timestamptz, $4::uuid)" : ""}
        order by b.at desc, b.subject desc limit $2`,
      [personId, PAGE + 1, ...(after ?? [])],
    );
    const last = rows.length > PAGE ? rows[PAGE - 1]! : null;
    const waiting = rows.slice(0, PAGE).map(({ position: _, recipe, ...raw }): Waiting => {
      const row = asShown(raw, new ShownLine(parseRecipe(recipe), Infinity));
      const asks = row.kind === "comment" && asksSomething(row.words);
      const kind = row.kind === "reaction" ? "not-clear" : asks ? "question" : row.kind;
      return { ...row, kind, when: row.when.toISOString() };
    });
    return {
      waiting: show === "questions" ? waiting.filter((w) => w.kind === "question") : waiting,
      next: last && writeJsonCursor(last.position, last.subject),
    };
  }

  async #owed(personId: string): Promise<Waiting[]> {
    const rows = await this.db.rows<Omit<Waiting, "when"> & { when: Date }>(
      `select i.id as subject, 'owed' as kind, r.token, r.title, r.poster_key is not null as "hasPoster",
              o.name as who, false as guest, a.question as words, null as at, null as answer, ${ASK_JSON} as ask,
              i.created_at as "when", null as thread, b.read_at is null as unread
         ${OWED} order by a.due_ends nulls last, i.created_at limit ${MOST_OWED}`,
      [personId],
    );
    return rows.map((row) => ({ ...row, when: row.when.toISOString() }));
  }
}

const cursor = Joi.array().ordered(timestampField.required(), uuidField.required());

function readCursor(text: string | null): [string, string] | null {
  return text === null ? null : (readJsonCursor(text, cursor) as [string, string]);
}
