import Joi from "joi";
import { refusalOf, type Answer, type Ask } from "#core/answers/kinds";
import { asksSomething } from "#core/answers/text";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { uuidField } from "../http/fields";

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
  words: string;
  at: Micros | null;
  answer: Answer | null;
  ask: Ask | null;
  when: string;
  unread: boolean;
  /** the thread to reply in */
  thread: string | null;
}

export const SHOWS = ["all", "unread", "owed", "unclear", "questions"] as const;
export type Show = (typeof SHOWS)[number];
export const inboxQuery = Joi.object({
  show: Joi.string()
    .valid(...SHOWS)
    .default("all"),
});
export const readForm = Joi.object({
  do: Joi.string().valid("read", "unread").required(),
  subjects: Joi.array().items(uuidField).min(1).max(300).required(),
});

const MOST = 300;

/**
 * Everything that is said to member $1, newest last changes first. What is owed is asked for apart: it waits until it
 * is answered.
 */
const SAID = `
  select c.id as subject, case when r.owner_id = $1 then 'comment' else 'reply' end as kind, c.recording_id, v.id as viewer_id, c.imported_from as other_name, c.body as words, c.at_us,
         null::jsonb as answer, greatest(c.created_at, c.edited_at) as at, coalesce(c.reply_to, c.id) as thread
    from comments c join viewers v on v.id = c.viewer_id join recordings r on r.id = c.recording_id
   where v.member_id is distinct from $1 and c.removed_at is null
     and (r.owner_id = $1 or exists (
       select 1 from comments o join viewers ov on ov.id = o.viewer_id where ov.member_id = $1 and c.reply_to is not null and (o.id = c.reply_to or o.reply_to = c.reply_to)))
  union all
  select a.id, case a.answer ->> 'kind' when 'not-clear' then 'not-clear' else 'answer' end, a.recording_id, a.viewer_id, null, coalesce(a.answer ->> 'words', ''), (a.answer ->> 'at')::bigint,
         a.answer, a.answered_at, null
    from answers a join recordings r on r.id = a.recording_id where r.owner_id = $1
  union all
  select x.id, 'not-clear', x.recording_id, x.viewer_id, null, '', x.at_us, null, x.created_at, null
    from reactions x join recordings r on r.id = x.recording_id join viewers v on v.id = x.viewer_id where r.owner_id = $1 and x.kind = 'not-clear' and v.number >= 0`;

/** The recordings that member $1 may open. */
const OPEN_TO_MEMBER = "r.deleted_at is null and (r.owner_id = $1 or r.audience = 'anyone')";

type Row = Omit<Waiting, "when"> & { when: Date };

/** The Answers place of a member. */
export class Inbox {
  constructor(private readonly db: Database) {}

  async list(memberId: string, show: Show): Promise<Waiting[]> {
    const [said, owed] = await Promise.all([show === "owed" ? [] : this.#said(memberId), this.#owed(memberId)]);
    const wanted: Record<Show, (w: Waiting) => boolean> = {
      all: () => true,
      unread: (w) => w.unread,
      owed: (w) => w.kind === "owed",
      unclear: (w) => w.kind === "not-clear",
      questions: (w) => w.kind === "question",
    };
    return [...owed, ...said].filter(wanted[show]);
  }

  /** How much of it is new; what is owed counts until it is answered or read. */
  async unread(memberId: string): Promise<number> {
    const [row] = await this.db.rows<{ count: number }>(
      `select count(*)::int as count from (select s.subject from (${SAID}) s join recordings r on r.id = s.recording_id
          where ${OPEN_TO_MEMBER} and not exists (select 1 from reads d where d.member_id = $1 and d.subject = s.subject and d.read_at >= s.at) limit 100) n`,
      [memberId],
    );
    return row!.count + (await this.#owed(memberId)).filter((w) => w.unread).length;
  }

  async mark(memberId: string, { do: deed, subjects }: { do: "read" | "unread"; subjects: string[] }): Promise<void> {
    if (deed === "unread")
      await this.db.rows("delete from reads where member_id = $1 and subject = any($2::uuid[]) returning subject", [
        memberId,
        subjects,
      ]);
    else {
      await this.db.rows(
        "insert into reads (member_id, subject) select $1, s from unnest($2::uuid[]) s on conflict (member_id, subject) do update set read_at = now() returning subject",
        [memberId, subjects],
      );
    }
  }

  async #said(memberId: string): Promise<Waiting[]> {
    const rows = await this.db.rows<Row>(
      `select s.subject, s.kind, r.token, r.title, r.poster_key is not null as "hasPoster", case when v.named or s.thread is not null or s.answer is not null then coalesce(s.other_name, m.name, g.name) end as who, s.words, s.at_us::float8 as at, s.answer,
              case when a.recording_id is not null then json_build_object('kind', a.kind, 'question', a.question, 'choices', a.choices, 'due', a.due, 'closed', a.closed) end as ask,
              s.at as "when", s.thread, not exists (select 1 from reads d where d.member_id = $1 and d.subject = s.subject and d.read_at >= s.at) as unread
         from (select * from (${SAID}) all_said order by at desc limit ${MOST}) s join recordings r on r.id = s.recording_id
         join viewers v on v.id = s.viewer_id left join members m on m.id = v.member_id left join guests g on g.id = v.guest_id left join asks a on a.recording_id = r.id
        where ${OPEN_TO_MEMBER} order by s.at desc`,
      [memberId],
    );
    return rows.map((row) => ({
      ...row,
      kind: row.kind === "comment" && asksSomething(row.words) ? "question" : row.kind,
      when: row.when.toISOString(),
    }));
  }

  async #owed(memberId: string): Promise<Waiting[]> {
    const rows = await this.db.rows<Row & { ask: Ask; given: Answer | null }>(
      `select i.id as subject, 'owed' as kind, r.token, r.title, r.poster_key is not null as "hasPoster", o.name as who, a.question as words, null as at, null as answer,
              json_build_object('kind', a.kind, 'question', a.question, 'choices', a.choices, 'due', a.due, 'closed', a.closed) as ask, i.created_at as "when", null as thread,
              not exists (select 1 from reads d where d.member_id = $1 and d.subject = i.id) as unread, n.answer as given
         from invites i join recordings r on r.id = i.recording_id join asks a on a.recording_id = r.id join members o on o.id = r.owner_id
         left join viewers v on v.recording_id = r.id and v.member_id = $1 left join answers n on n.viewer_id = v.id
        where i.member_id = $1 and not a.closed and ${OPEN_TO_MEMBER}
        order by a.due nulls last, i.created_at limit ${MOST}`,
      [memberId],
    );
    // An answer to what was asked before is none to what is asked now.
    return rows
      .filter((row) => !row.given || refusalOf(row.ask, row.given) !== null)
      .map(({ given: _, ...row }) => ({ ...row, when: row.when.toISOString() }));
  }
}
