import { randomUUID } from "node:crypto";
import type { Transaction } from "sequelize";
import { mayOnComment } from "#core/access/access";
import { planBringIn, type StandingComment } from "#core/answers/bring-in";
import type { AnnotatedComment, ReadComment } from "#core/answers/web-annotation";
import { tidyComment, COMMENT_MAX } from "#core/answers/text";
import type { ShownLine } from "#core/recipe/shown-line";
import type { Micros } from "#core/time/micros";
import { tidyName } from "#core/title/names";
import type { Database } from "../database/connection";
import { NAME_MAX } from "../http/fields";
import { Problem } from "../http/problem";
import type { Events, NewEvent } from "../live/events";
import { shownLineOf, shownStretch, sourceStretch } from "../recordings/shown-lines";
import { VIEWER_NAMES, type Viewer } from "./viewers";

/** A comment as pages show it. */
export interface ShownComment {
  id: string;
  replyTo: string | null;
  /** the viewer who wrote it, for a page to know its own */
  author: string;
  name: string;
  /** without an account: anybody can call themselves anything */
  guest: boolean;
  bySender: boolean;
  /** null when its author took it back and replies stand under it */
  body: string | null;
  at: Micros;
  until: Micros | null;
  createdAt: string;
  edited: boolean;
  /** another one whenever its words change: who changes them names the one that they have seen */
  version: number;
  settled: boolean;
}

/** The columns of a shown comment; `c` is the comment, `v` its viewer, `m` and `g` who that is. */
export const COMMENT_COLUMNS = `c.id, c.reply_to as "replyTo", c.viewer_id as author, coalesce(c.imported_from, m.name, g.name, 'Guest') as name,
  v.person_id is null and c.imported_from is null as guest, v.person_id is not distinct from o.owner_id as "bySender",
  case when c.removed_at is null then c.body end as body, c.at_us as at, c.until_us as until,
  to_char(c.created_at at time zone 'utc', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"') as "createdAt", c.edited_at is not null as edited, c.version, c.resolved_at is not null as settled`;
export const COMMENT_TABLES = `comments c join recordings o on o.id = c.recording_id join viewers v on v.id = c.viewer_id ${VIEWER_NAMES}`;

/** A moment or stretch as a page shows it, and the revision that it shows; null for the published one. */
interface Stretch {
  at: Micros;
  until: Micros | null;
  revision?: number | null;
}

/**
 * Comments of the source line as they are shown, with their replies; those of a stretch that is left out wait there for
 * it to come back.
 */
export const shownComments = <T extends { at: Micros; until: Micros | null }>(line: ShownLine, comments: T[]): T[] =>
  line.isIdentity
    ? comments
    : comments.flatMap((comment) => shownStretch(line, comment) ?? []).sort((a, b) => a.at - b.at);

const event = (subject: string): NewEvent => ({ kind: "comment", subject, senderOnly: false });
const MOST = 5_000;

/** Comments and their replies. A reply stands at the moment of what it replies to. */
export class Comments {
  constructor(
    private readonly db: Database,
    private readonly events: Events,
  ) {}

  /** In order of time; replies after what they reply to, in the order in which they were written. */
  async list(recordingId: string): Promise<ShownComment[]> {
    const [line, comments] = await Promise.all([
      shownLineOf(this.db, recordingId),
      this.db.rows<ShownComment>(
        `select ${COMMENT_COLUMNS} from ${COMMENT_TABLES} where c.recording_id = $1
          order by c.at_us, c.created_at limit ${MOST}`,
        [recordingId],
      ),
    ]);
    return shownComments(line, comments);
  }

  /** The same id again, after an answer that was lost, makes nothing new. */
  async add(
    recordingId: string,
    viewer: Viewer,
    { id, body, at, until, revision = null }: { id: string; body: string } & Stretch,
  ): Promise<string> {
    requireName(viewer);
    const source = sourceStretch(await shownLineOf(this.db, recordingId, revision), at, until);
    return this.events.within(recordingId, async (transaction) => {
      if (await this.#isThere(recordingId, viewer, id, transaction)) return { result: id, events: [] };
      await this.db.rows(
        "insert into comments (id, recording_id, viewer_id, body, at_us, until_us) values ($1, $2, $3, $4, $5, $6) returning id",
        [id, recordingId, viewer.id, body, source.at, source.until],
        transaction,
      );
      return { result: id, events: [event(id)] };
    });
  }

  async reply(
    recordingId: string,
    viewer: Viewer,
    { id, to, body }: { id: string; to: string; body: string },
  ): Promise<string> {
    requireName(viewer);
    return this.events.within(recordingId, async (transaction) => {
      if (await this.#isThere(recordingId, viewer, id, transaction)) return { result: id, events: [] };
      // A reply to a reply stands in the same thread.
      const [row] = await this.db.rows(
        `insert into comments (id, recording_id, viewer_id, reply_to, body, at_us)
         select $1, c.recording_id, $2, coalesce(c.reply_to, c.id), $3, c.at_us from comments c where c.id = $4 and c.recording_id = $5 returning id`,
        [id, viewer.id, body, to, recordingId],
        transaction,
      );
      if (!row) throw gone();
      return { result: id, events: [event(id)] };
    });
  }

  /**
   * @param version the one that is replaced knowingly
   * @throws {Problem} 409 when its words were changed meanwhile
   */
  async edit(
    recordingId: string,
    viewer: Viewer,
    { id, body, version }: { id: string; body: string; version: number },
  ): Promise<void> {
    await this.#require(recordingId, viewer, "edit", id);
    await this.events.within(recordingId, async (transaction) => {
      const [now] = await this.db.rows<{ body: string; version: number; removed: boolean }>(
        "select body, version, removed_at is not null as removed from comments where id = $1",
        [id],
        transaction,
      );
      if (!now || now.removed) throw gone();
      // The same words again, after an answer that was lost, change nothing.
      if (now.body === body) return { result: undefined, events: [] };
      if (now.version !== version)
        throw new Problem(
          409,
          "changed-meanwhile",
          `This comment was changed in another window meanwhile, to “${now.body}”. Keep again to replace it.`,
        );
      await this.db.rows(
        "update comments set body = $2, edited_at = now(), version = version + 1 where id = $1 returning id",
        [id, body],
        transaction,
      );
      return { result: undefined, events: [event(id)] };
    });
  }

  /** Takes a comment back. Where others have replied, its place stays and its words go. */
  async remove(recordingId: string, viewer: Viewer, { id }: { id: string }): Promise<void> {
    await this.#require(recordingId, viewer, "remove", id);
    await this.events.within(recordingId, async (transaction) => {
      const [removed] = await this.db.rows<{ replyTo: string | null }>(
        `delete from comments c where c.id = $1 and not exists (select 1 from comments r where r.reply_to = c.id) returning c.reply_to as "replyTo"`,
        [id],
        transaction,
      );
      if (!removed)
        await this.db.rows(
          "update comments set removed_at = now(), body = '-' where id = $1 returning id",
          [id],
          transaction,
        );
      return { result: undefined, events: [event(id)] };
    });
  }

  async settle(recordingId: string, viewer: Viewer, { id, settled }: { id: string; settled: boolean }): Promise<void> {
    await this.#require(recordingId, viewer, "settle", id);
    await this.events.within(recordingId, async (transaction) => {
      await this.db.rows(
        "update comments set resolved_at = case when $2 then coalesce(resolved_at, now()) end where id = $1 and reply_to is null returning id",
        [id, settled],
        transaction,
      );
      return { result: undefined, events: [event(id)] };
    });
  }

  /** All that has words, for an annotation file. */
  async toAnnotations(recordingId: string): Promise<AnnotatedComment[]> {
    const line = await shownLineOf(this.db, recordingId);
    const rows = await this.db.rows<
      Omit<AnnotatedComment, "createdAt" | "editedAt"> & { createdAt: Date; editedAt: Date | null }
    >(
      `select c.id, c.reply_to as "replyTo", coalesce(c.imported_from, m.name, g.name, 'Guest') as author, c.body, c.at_us as at, c.until_us as until,
              c.created_at as "createdAt", c.edited_at as "editedAt"
         from ${COMMENT_TABLES} where c.recording_id = $1 and c.removed_at is null order by c.at_us, c.created_at`,
      [recordingId],
    );
    return shownComments(line, rows).map((row) => ({
      ...row,
      createdAt: row.createdAt.toISOString(),
      editedAt: row.editedAt?.toISOString() ?? null,
    }));
  }

  /**
   * Adds comments that were read from a file, under the names that the file gives and as brought in by this viewer.
   * @returns how many were added, were there already, and had no place
   */
  async bringIn(
    recordingId: string,
    viewer: Viewer,
    comments: ReadComment[],
  ): Promise<{ added: number; known: number; lost: number }> {
    const line = await shownLineOf(this.db, recordingId);
    const fit = comments.slice(0, MOST).flatMap((c) => {
      const body = tidyComment(c.body).slice(0, COMMENT_MAX);
      const author = tidyName(c.author).slice(0, NAME_MAX) || "Unnamed";
      return body ? [{ ...c, ...sourceStretch(line, c.at, c.until), body, author }] : [];
    });
    return this.events.within(recordingId, async (transaction) => {
      const standing = await this.db.rows<StandingComment>(
        `select c.id, c.reply_to as "replyTo", coalesce(c.imported_from, m.name, g.name, 'Guest') as author, c.body,
                c.at_us as at
           from ${COMMENT_TABLES} where c.recording_id = $1 and c.removed_at is null`,
        [recordingId],
        transaction,
      );
      const { added, known, lost } = planBringIn(fit, standing, randomUUID);
      const column = <K extends keyof (typeof added)[number]>(name: K) => added.map((c) => c[name]);
      await this.db.rows(
        `insert into comments (id, recording_id, viewer_id, reply_to, body, imported_from, at_us, until_us)
         select n.id, $1, $2, n.under, n.body, n.author, n.at, n.until
           from unnest($3::uuid[], $4::uuid[], $5::text[], $6::text[], $7::bigint[], $8::bigint[])
                as n(id, under, body, author, at, until) order by n.under nulls first returning id`,
        [
          recordingId,
          viewer.id,
          column("newId"),
          column("under"),
          column("body"),
          column("author"),
          column("at"),
          column("until"),
        ],
        transaction,
      );
      return { result: { added: added.length, known, lost }, events: added.map((c) => event(c.newId)) };
    });
  }

  /** Has this viewer's page made this one already? @throws {Problem} 409 for somebody else's id */
  async #isThere(recordingId: string, viewer: Viewer, id: string, transaction: Transaction): Promise<boolean> {
    const [row] = await this.db.rows<{ mine: boolean }>(
      "select viewer_id = $2 and recording_id = $3 as mine from comments where id = $1",
      [id, viewer.id, recordingId],
      transaction,
    );
    if (row && !row.mine) throw new Problem(409, "other-comment", "There is another comment by this id.");
    return row !== undefined;
  }

  async #require(recordingId: string, viewer: Viewer, deed: "edit" | "remove" | "settle", id: string): Promise<void> {
    const [comment] = await this.db.rows<{ authorId: string }>(
      `select viewer_id as "authorId" from comments where id = $1 and recording_id = $2`,
      [id, recordingId],
    );
    if (!comment) throw gone();
    if (!mayOnComment(viewer, deed, comment)) throw new Problem(403, "not-yours", "This comment is somebody else's.");
  }
}

function requireName(viewer: Viewer): void {
  if (!viewer.name) throw new Problem(422, "no-name", "Give your name first, so that people know who is speaking.");
}

const gone = () => new Problem(404, "no-such-comment", "This comment is not there any more.");
