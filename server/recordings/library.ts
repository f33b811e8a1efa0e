import Joi from "joi";
import type { TakeSource } from "#core/media/tracks";
import type { Audience } from "#core/access/access";
import type { Micros } from "#core/time/micros";
import type { AccessFacts } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import type { Expected } from "../database/models";
import { plainText, readJsonCursor, timestampField, uuidField } from "../http/fields";
import { Problem } from "../http/problem";
import type { Storage } from "../storage/storage";
import { may, type Deed } from "#core/access/access";

export const SORTS = ["newest", "oldest", "title", "longest"] as const;
export type Sort = (typeof SORTS)[number];

/** Days that a deleted recording can still be brought back. */
export const KEPT_DAYS = 30;
const PAGE = 50;
/** A recorder notes itself every 10 s and sends a segment every 2 s. Silent for longer than this, it is gone. */
const SILENT_SECONDS = 40;

/** Where a recording stands, as the library says it. */
export type RowState =
  | { kind: "recording"; paused: boolean }
  | { kind: "uploading"; stored: number; expected: number }
  | { kind: "ready" }
  /** the recorder stopped talking before all was here; what is here can be watched */
  | { kind: "interrupted"; stored: number; expected: number | null }
  /** the recorder is done and nothing at all has arrived */
  | { kind: "empty" };

export interface LibraryRow {
  id: string;
  token: string;
  title: string;
  source: TakeSource;
  audience: Audience;
  state: RowState;
  durationUs: number;
  createdAt: string;
  deletedAt: string | null;
  sender: string;
  mine: boolean;
  hasPoster: boolean;
  /** what came back; null for what is not one's own: only the sender sees it */
  back: Back | null;
}

/** Where an ask stands, as `ask_standings` has it. */
export interface AskStanding {
  kind: string;
  closed: boolean;
  /** people who were asked by name, and how many of them have answered what is asked now */
  asked: number;
  answered: number;
  /** answers of people who came by themselves */
  others: number;
  notClear: number;
  /** somebody who was asked is late */
  overdue: boolean;
}

/** What has come back for a recording, in a few numbers. */
export interface Back {
  /** null when nothing is asked */
  ask: AskStanding | null;
  views: number;
  /** the share of viewers who were there, 0 to 1 over equal parts of the length; empty when nobody watched */
  strip: number[];
  /** where comments stand, each as a share of the length */
  comments: number[];
}

/** What the watch page says of a recording. Chapters and captions are in source time. */
export interface Details {
  id: string;
  title: string;
  sender: string;
  createdAt: string;
  hasPoster: boolean;
  chapters: { at: Micros; title: string }[];
  captions: { from: Micros; to: Micros; text: string }[];
}

export interface LibraryPage {
  rows: LibraryRow[];
  /** where the next page starts; null at the end */
  next: string | null;
}

export const libraryQuery = Joi.object({
  q: plainText.trim().max(160).allow("").default(""),
  sort: Joi.string()
    .valid(...SORTS)
    .default("newest"),
  show: Joi.string().valid("kept", "deleted").default("kept"),
  after: Joi.string().max(400).default(null),
});

export interface LibraryQuery {
  q: string;
  sort: Sort;
  show: "kept" | "deleted";
  after: string | null;
}

/** How each sort orders rows, and the value a page continues after. Every one has its index. */
const ORDER: Record<Sort, { by: string; direction: "asc" | "desc"; type: string }> = {
  newest: { by: "r.created_at", direction: "desc", type: "timestamptz" },
  oldest: { by: "r.created_at", direction: "asc", type: "timestamptz" },
  title: { by: "lower(r.title)", direction: "asc", type: "text" },
  longest: { by: "r.duration_us", direction: "desc", type: "bigint" },
};

interface RawRow {
  id: string;
  token: string;
  title: string;
  source: TakeSource;
  audience: Audience;
  state: "recording" | "uploading" | "complete";
  paused: boolean;
  expected: Expected | null;
  stored: number;
  silent: number;
  endUs: string | null;
  durationUs: string;
  createdAt: Date;
  deletedAt: Date | null;
  sender: string;
  ownerId: string;
  hasPoster: boolean;
  position: string;
  askKind: string | null;
  askClosed: boolean | null;
  overdue: boolean | null;
  asked: number;
  answered: number;
  others: number;
  notClear: number;
  views: number | null;
  strip: Buffer | null;
  comments: number[];
}

/** The lists of recordings, and what can be done with a row. */
export class Library {
  constructor(
    private readonly db: Database,
    private readonly access: AccessFacts,
    private readonly storage: Storage,
  ) {}

  /** One page, in one query. The `where` is the `list` line of `core/access`, in SQL. */
  async page(member: SignedIn, query: LibraryQuery): Promise<LibraryPage> {
    const { by, direction, type } = ORDER[query.sort];
    const after = readCursor(query.after, query.sort);
    const rows = await this.db.rows<RawRow>(
      `select r.id, r.token, r.title, r.audience, r.owner_id as "ownerId", r.duration_us as "durationUs",
              r.created_at as "createdAt", r.deleted_at as "deletedAt", r.poster_key is not null as "hasPoster",
              m.name as sender, t.source, t.state, t.paused, t.expected,
              coalesce(p.stored, 0)::int as stored, p.end_us as "endUs",
              extract(epoch from now() - greatest(t.heard_at, p.last))::float8 as silent, (${by})::text as position,
              a.kind as "askKind", a.closed as "askClosed", a.overdue, a.asked, a.answered, a.others, a.not_clear as "notClear", f.watched as views, f.strip, c.comments
         from recordings r
         join members m on m.id = r.owner_id
         join lateral (select * from takes where recording_id = r.id order by position desc limit 1) t on true
         left join lateral (
           select count(*) as stored, max(s.start_us + s.duration_us) as end_us, max(s.stored_at) as last
             from tracks k join segments s on s.track_id = k.id where k.take_id = t.id and t.state <> 'complete') p on true
         left join ask_standings a on a.recording_id = r.id
         left join folds f on f.recording_id = r.id
         left join lateral (
           select coalesce(json_agg(round(at_us::numeric / greatest(1, r.duration_us), 4)::float8 order by at_us), '[]') as comments
             from (select at_us from comments where recording_id = r.id and reply_to is null and removed_at is null order by at_us limit 60) first_ones) c on true
        where r.workspace_id = $1
          and ${query.show === "deleted" ? "r.deleted_at is not null and r.owner_id = $2" : "r.deleted_at is null and (r.owner_id = $2 or r.audience = 'anyone')"}
          and ($3 = '' or r.title ilike $3)
          ${after ? `and (${by}, r.id) ${direction === "asc" ? ">" : "<"} ($5::${type}, $6::uuid)` : ""}
        order by ${by} ${direction}, r.id ${direction}
        limit $4`,
      [
        member.workspaceId,
        member.id,
        query.q === "" ? "" : `%${query.q.replace(/[\\%_]/g, "\\$&")}%`,
        PAGE + 1,
        ...(after ?? []),
      ],
    );
    const last = rows.length > PAGE ? rows[PAGE - 1] : undefined;
    return {
      rows: rows.slice(0, PAGE).map((r) => toRow(r, member)),
      next: last ? writeCursor(last.position, last.id) : null,
    };
  }

  async details(id: string): Promise<Details> {
    const [row] = await this.db.rows<Omit<Details, "createdAt"> & { createdAt: Date }>(
      `select r.id, r.title, m.name as sender, r.created_at as "createdAt", r.poster_key is not null as "hasPoster", r.chapters, r.captions
         from recordings r join members m on m.id = r.owner_id where r.id = $1`,
      [id],
    );
    if (!row) throw new Problem(404, "not-found", "There is nothing here that you can open.");
    return { ...row, createdAt: row.createdAt.toISOString() };
  }

  async rename(member: SignedIn, id: string, title: string): Promise<void> {
    await this.#require(member, "change", id);
    await this.db.models.Recording.update({ title }, { where: { id } });
  }

  async share(member: SignedIn, id: string, audience: Audience): Promise<void> {
    await this.#require(member, "change", id);
    await this.db.models.Recording.update({ audience }, { where: { id } });
    await this.access.changed(id);
  }

  async delete(member: SignedIn, id: string): Promise<void> {
    await this.#require(member, "change", id);
    await this.db.models.Recording.update({ deletedAt: new Date() }, { where: { id } });
    await this.access.changed(id);
  }

  async restore(member: SignedIn, id: string): Promise<void> {
    await this.#require(member, "restore", id);
    await this.db.models.Recording.update({ deletedAt: null }, { where: { id } });
    await this.access.changed(id);
  }

  /** Removes a deleted recording for good, before its 30 days are over. */
  async erase(member: SignedIn, id: string): Promise<void> {
    await this.#require(member, "restore", id);
    await eraseRecording(this.db, this.storage, id);
    await this.access.changed(id);
  }

  async #require(member: SignedIn, deed: Deed, id: string): Promise<void> {
    const recording = await this.access.byId(id);
    if (!recording || !may(member, deed, recording))
      throw new Problem(404, "not-found", "This recording is not there any more, or not yours.");
  }
}

/** The rows first: once they are gone nobody can be shown a file that is half removed. */
export async function eraseRecording(db: Database, storage: Storage, id: string): Promise<void> {
  const takes = await db.models.Take.findAll({ where: { recordingId: id }, attributes: ["id"] });
  await db.models.Recording.destroy({ where: { id } });
  for (const take of takes) await storage.removeAll(`takes/${take.id}`);
  await storage.removeAll(`posters/${id}`);
}

function toRow(raw: RawRow, member: SignedIn): LibraryRow {
  const { id, token, title, source, audience, sender, hasPoster } = raw;
  return {
    id,
    token,
    title,
    source,
    audience,
    sender,
    hasPoster,
    state: rowState(raw),
    durationUs: Number(raw.state === "complete" ? raw.durationUs : (raw.endUs ?? 0)),
    createdAt: raw.createdAt.toISOString(),
    deletedAt: raw.deletedAt?.toISOString() ?? null,
    mine: raw.ownerId === member.id,
    back: raw.ownerId === member.id ? backOf(raw) : null,
  };
}

function backOf({
  askKind,
  askClosed,
  overdue,
  asked,
  answered,
  others,
  notClear,
  views,
  strip,
  comments,
}: RawRow): Back {
  return {
    ask:
      askKind === null
        ? null
        : { kind: askKind, closed: askClosed!, asked, answered, others, notClear, overdue: overdue! },
    views: views ?? 0,
    strip: views ? [...strip!].map((byte) => Math.round((byte / 255) * 100) / 100) : [],
    comments,
  };
}

/** @returns where a take stands, from what is known of it */
export function rowState(
  raw: Pick<RawRow, "state" | "paused" | "expected" | "stored" | "silent" | "durationUs">,
): RowState {
  if (raw.state === "complete") return Number(raw.durationUs) > 0 ? { kind: "ready" } : { kind: "empty" };
  const expected = raw.expected ? Object.values(raw.expected).reduce((sum, n) => sum + n, 0) : null;
  if (raw.silent > SILENT_SECONDS) return { kind: "interrupted", stored: raw.stored, expected };
  return expected === null
    ? { kind: "recording", paused: raw.paused }
    : { kind: "uploading", stored: raw.stored, expected };
}

const writeCursor = (position: string, id: string) => Buffer.from(JSON.stringify([position, id])).toString("base64url");

/** What a page continues after: only what its order can be compared with. */
const CURSOR: Record<Sort, Joi.StringSchema> = {
  newest: timestampField,
  oldest: timestampField,
  title: plainText.max(200),
  longest: Joi.string().pattern(/^\d{1,15}$/),
};

function readCursor(text: string | null, sort: Sort): [string, string] | null {
  if (text === null) return null;
  const schema = Joi.array().ordered(CURSOR[sort].required(), uuidField.required());
  return readJsonCursor(text, schema) as [string, string];
}
