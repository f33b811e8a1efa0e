import Joi from "joi";
import type { Owed } from "#core/answers/owed";
import { may, type Audience, type Deed } from "#core/access/access";
import { maySql } from "#core/access/access-sql";
import type { Micros } from "#core/time/micros";
import type { AccessFacts } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { plainText, readJsonCursor, timestampField, uuidField, writeJsonCursor } from "../http/fields";
import { Problem } from "../http/problem";
import type { Erase } from "./erase";
import { shownLineOf, shownOnly, shownParts } from "./shown-lines";
import { ROW_COLUMNS, ROW_TABLES, toRow, type LibraryRow, type RawRow } from "./rows";

export const SORTS = ["newest", "oldest", "title", "longest"] as const;
export type Sort = (typeof SORTS)[number];

const PAGE = 50;
/** What the watch page says of a recording. Chapters and captions are in shown time. */
export interface Details {
  id: string;
  title: string;
  titleVersion: number;
  sender: string;
  createdAt: string;
  hasPoster: boolean;
  chapters: { at: Micros; title: string }[];
  captions: { from: Micros; to: Micros; text: string }[];
}

/** A group of the ledger: its first rows, and how many there are in all. */
export interface LibraryGroup {
  owed: Owed;
  total: number;
  rows: LibraryRow[];
}

/** The groups in their order; what is on its way stands first. */
export const OWED_GROUPS = ["arriving", "waiting", "answered", "nothing", "draft", "others"] as const satisfies Owed[];
/** Rows of each group on the first page. */
const GROUP_ROWS = 10;

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
  /** one group by what is owed, whole; null for all */
  group: Joi.string()
    .valid(...OWED_GROUPS)
    .default(null),
  after: Joi.string().max(400).default(null),
});

export interface LibraryQuery {
  q: string;
  sort: Sort;
  show: "kept" | "deleted";
  group: Owed | null;
  after: string | null;
}

/** How each sort orders rows, and the value a page continues after. Every one has its index. */
const ORDER: Record<Sort, { by: string; direction: "asc" | "desc"; type: string }> = {
  newest: { by: "r.created_at", direction: "desc", type: "timestamptz" },
  oldest: { by: "r.created_at", direction: "asc", type: "timestamptz" },
  title: { by: "lower(r.title)", direction: "asc", type: "text" },
  longest: { by: "r.duration_us", direction: "desc", type: "bigint" },
};

/** The lists of recordings, and what can be done with a row. */
export class Library {
  constructor(
    private readonly db: Database,
    private readonly access: AccessFacts,
    private readonly eraseForGood: Erase,
  ) {}

  /** One page, in one query. What may be listed is the `list` line of `core/access`. */
  async page(member: SignedIn, query: LibraryQuery): Promise<LibraryPage> {
    const { by, direction, type } = ORDER[query.sort];
    const after = readCursor(query.after, query.sort);
    const rows = await this.db.rows<RawRow & { position: string }>(
      `select ${ROW_COLUMNS}, (${by})::text as position
         from recordings r ${ROW_TABLES}
        where ${whereOf(query)} and ($3 = '' or r.title ilike $3)
          ${after ? `and (${by}, r.id) ${direction === "asc" ? ">" : "<"} ($5::${type}, $6::uuid)` : ""}
        order by ${by} ${direction}, r.id ${direction}
        limit $4`,
      [member.workspaceId, member.id, likeOf(query.q), PAGE + 1, ...(after ?? [])],
    );
    const last = rows.length > PAGE ? rows[PAGE - 1] : undefined;
    return {
      rows: rows.slice(0, PAGE).map((r) => toRow(r, member)),
      next: last ? writeJsonCursor(last.position, last.id) : null,
    };
  }

  /** The first rows of each group by what is still owed, and how many each has, over the whole library. */
  async groups(member: SignedIn, { q, sort }: Pick<LibraryQuery, "q" | "sort">): Promise<LibraryGroup[]> {
    const direction = sort === "oldest" ? "asc" : "desc";
    // A part for each group, each with its own index.
    const parts = OWED_GROUPS.map((owed, place) => {
      const where = `${whereOf({ show: "kept", group: owed })} and ($3 = '' or r.title ilike $3)`;
      const order = `r.created_at ${direction}, r.id ${direction}`;
      return `select '${owed}' as owed, ${place} as part, first.id, first.place,
                     (select count(*)::int from recordings r where ${where}) as total
                from (select r.id, row_number() over (order by ${order}) as place
                        from recordings r where ${where} order by ${order} limit ${GROUP_ROWS}) first`;
    });
    const rows = await this.db.rows<RawRow & { owed: Owed; total: number }>(
      `with shown as (${parts.join(" union all ")})
       select ${ROW_COLUMNS}, shown.owed, shown.total
         from shown join recordings r on r.id = shown.id ${ROW_TABLES}
        order by shown.part, shown.place`,
      [member.workspaceId, member.id, likeOf(q)],
    );
    return OWED_GROUPS.flatMap((owed) => {
      const some = rows.filter((row) => row.owed === owed);
      return some.length > 0 ? [{ owed, total: some[0]!.total, rows: some.map((row) => toRow(row, member)) }] : [];
    });
  }

  async details(id: string): Promise<Details> {
    const [row] = await this.db.rows<Omit<Details, "createdAt"> & { createdAt: Date }>(
      `select r.id, r.title, r.title_version as "titleVersion", m.name as sender, r.created_at as "createdAt", r.poster_key is not null as "hasPoster", r.chapters, r.captions
         from recordings r join people m on m.id = r.owner_id where r.id = $1`,
      [id],
    );
    if (!row) throw new Problem(404, "not-found", "There is nothing here that you can open.");
    const line = await shownLineOf(this.db, id);
    return {
      ...row,
      createdAt: row.createdAt.toISOString(),
      chapters: shownOnly(line, row.chapters),
      captions: shownParts(line, row.captions),
    };
  }

  /**
   * @param version the title's version that is replaced knowingly
   * @throws {Problem} 409 when it was changed meanwhile
   */
  async rename(member: SignedIn, id: string, title: string, version: number): Promise<void> {
    await this.#require(member, "change", id);
    const { Recording } = this.db.models;
    const [changed] = await Recording.update(
      { title, titleVersion: version + 1 },
      { where: { id, titleVersion: version } },
    );
    if (changed > 0) return;
    const now = await Recording.findByPk(id, { attributes: ["title"] });
    // The same again, after an answer that was lost, is what was wanted.
    if (!now || now.title === title) return;
    throw new Problem(409, "changed-meanwhile", `It was changed in another window meanwhile, to “${now.title}”.`);
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
    await this.eraseForGood(id);
    await this.access.changed(id);
  }

  async #require(member: SignedIn, deed: Deed, id: string): Promise<void> {
    const recording = await this.access.byId(id);
    if (!recording || !may(member, deed, recording, Date.now()))
      throw new Problem(404, "not-found", "This recording is not there any more, or not yours.");
  }
}

/** Of workspace $1, what person $2 may have in lists. */
const LISTED = `r.workspace_id = $1 and ${maySql("list", { person: "$2", workspaces: "array[$1::uuid]" })}`;

/** What each page shows of it. The words of the indexes stand first, each by itself. */
function whereOf({ show, group }: Pick<LibraryQuery, "show" | "group">): string {
  if (show === "deleted") return `r.deleted_at is not null and ${LISTED}`;
  if (group === "others") return `r.deleted_at is null and r.audience = 'anyone' and r.owner_id <> $2 and ${LISTED}`;
  if (group) return `r.deleted_at is null and r.owner_id = $2 and r.owed = '${group}' and ${LISTED}`;
  return `r.deleted_at is null and ${LISTED}`;
}

/** A text to be found anywhere in a title, every character of it as it is. */
const likeOf = (q: string) => (q === "" ? "" : `%${q.replace(/[\\%_]/g, "\\$&")}%`);

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
