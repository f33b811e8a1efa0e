import { randomUUID } from "node:crypto";
import type { CreationAttributes, Transaction } from "sequelize";
import { mayOnComment } from "#core/access/access";
import { planBringIn, type StandingComment } from "#core/answers/bring-in";
import type { AnnotatedComment, ReadComment } from "#core/answers/web-annotation";
import { tidyComment, COMMENT_MAX } from "#core/answers/text";
import type { ShownLine } from "#core/recipe/shown-line";
import type { Micros } from "#core/time/micros";
import { tidyName } from "#core/title/names";
import type { Database } from "../database/connection";
import type { Comment } from "../database/models/answers";
import { NAME_MAX } from "../http/fields";
import { Problem } from "../http/problem";
import type { Events, NewEvent } from "../live/events";
import { shownLineOf, shownStretch, sourceStretch } from "../recordings/shown-lines";
import { BRING_IN_COMMENTS, COMMENTS, COMMENTS_IN_FULL, COMMENTS_WRITTEN } from "./sql";
import type { Viewer } from "./viewers";

/** A comment as pages show it. */
export interface ShownComment {
  id: string;
  replyTo: string | null;
  /** the viewer who wrote it, for a page to know its own */
  author: string;
  name: string;
  /** what their portrait is called, where they have one */
  portrait: string | null;
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
  /** how many replies it has in all; fewer of them may have come */
  replies: number;
}

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
/** A recording has so many, and one person writes so many there. */
const MOST = 5_000;
const MOST_OF_ONE = 300;

/** Comments and their replies. A reply stands at the moment of what it replies to. */
export class Comments {
  constructor(
    private readonly db: Database,
    private readonly events: Events,
  ) {}

  get #comments() {
    return this.db.models.Comment;
  }

  /** All of them, in order of time; replies after what they reply to, in the order in which they were written. */
  async list(recordingId: string): Promise<ShownComment[]> {
    const [line, comments] = await Promise.all([
      shownLineOf(this.db, recordingId),
      this.db.rows<ShownComment>(COMMENTS, [recordingId, MOST]),
    ]);
    return shownComments(line, comments);
  }

  /** What was said to what was recorded, whatever of it is shown: without replies, in source time. */
  async recorded(recordingId: string): Promise<ShownComment[]> {
    const comments = await this.db.rows<ShownComment>(COMMENTS, [recordingId, MOST]);
    return comments.filter(({ replyTo, body }) => replyTo === null && body !== null);
  }

  /** The same id again, after an answer that was lost, makes nothing new. */
  async add(
    recordingId: string,
    viewer: Viewer,
    { id, body, at, until, revision = null }: { id: string; body: string } & Stretch,
  ): Promise<string> {
    requireName(viewer);
    const source = sourceStretch(await shownLineOf(this.db, recordingId, revision), at, until);
    return this.#addOnce(recordingId, viewer, id, async () => ({ body, atUs: source.at, untilUs: source.until }));
  }

  /** A reply to a reply stands in the same thread. */
  async reply(
    recordingId: string,
    viewer: Viewer,
    { id, to, body }: { id: string; to: string; body: string },
  ): Promise<string> {
    requireName(viewer);
    return this.#addOnce(recordingId, viewer, id, async (transaction) => {
      const root = await this.#comments.findOne({ where: { id: to, recordingId }, transaction });
      if (!root) throw gone();
      return { body, replyTo: root.replyTo ?? root.id, atUs: root.atUs };
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
      const now = await this.#comments.findByPk(id, { transaction });
      if (!now || now.removedAt) throw gone();
      // The same words again, after an answer that was lost, change nothing.
      if (now.body === body) return { result: undefined, events: [] };
      if (now.version !== version)
        throw new Problem(
          409,
          "changed-meanwhile",
          `This comment was changed in another window meanwhile, to “${now.body}”. Keep again to replace it.`,
        );
      await now.update({ body, editedAt: new Date(), version: version + 1 }, { transaction });
      return { result: undefined, events: [event(id)] };
    });
  }

  /** Takes a comment back. Where others have replied, its place stays and its words go. */
  async remove(recordingId: string, viewer: Viewer, { id }: { id: string }): Promise<void> {
    await this.#require(recordingId, viewer, "remove", id);
    await this.events.within(recordingId, async (transaction) => {
      const replied = await this.#comments.count({ where: { replyTo: id }, transaction });
      if (replied === 0) await this.#comments.destroy({ where: { id }, transaction });
      else await this.#comments.update({ removedAt: new Date(), body: "-" }, { where: { id }, transaction });
      return { result: undefined, events: [event(id)] };
    });
  }

  async settle(recordingId: string, viewer: Viewer, { id, settled }: { id: string; settled: boolean }): Promise<void> {
    await this.#require(recordingId, viewer, "settle", id);
    await this.events.within(recordingId, async (transaction) => {
      // Settled again, after an answer that was lost, it stays settled since then.
      const where = { id, replyTo: null, ...(settled && { resolvedAt: null }) };
      await this.#comments.update({ resolvedAt: settled ? new Date() : null }, { where, transaction });
      return { result: undefined, events: [event(id)] };
    });
  }

  /** All that has words, for an annotation file. */
  async toAnnotations(recordingId: string): Promise<AnnotatedComment[]> {
    const line = await shownLineOf(this.db, recordingId);
    const rows = await this.db.rows<
      Omit<AnnotatedComment, "createdAt" | "editedAt"> & { createdAt: Date; editedAt: Date | null }
    >(COMMENTS_IN_FULL, [recordingId]);
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
      const standing = await this.db.rows<StandingComment>(COMMENTS_IN_FULL, [recordingId], transaction);
      const { added, known, lost } = planBringIn(fit, standing, randomUUID);
      const column = <K extends keyof (typeof added)[number]>(name: K) => added.map((c) => c[name]);
      await this.db.rows(
        BRING_IN_COMMENTS,
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

  /**
   * Adds a comment unless this viewer's page has made it already.
   * @throws {Problem} 409 for the id of somebody else's
   */
  #addOnce(
    recordingId: string,
    viewer: Viewer,
    id: string,
    read: (
      transaction: Transaction,
    ) => Promise<Pick<CreationAttributes<Comment>, "body" | "replyTo" | "atUs" | "untilUs">>,
  ): Promise<string> {
    return this.events.share(recordingId, async (transaction) => {
      type Written = { there: { viewer: string; recording: string } | null; own: number; every: number };
      const bind = [recordingId, viewer.id, MOST, id];
      const [written] = await this.db.rows<Written>(COMMENTS_WRITTEN, bind, transaction);
      const { there } = written!;
      if (there && (there.viewer !== viewer.id || there.recording !== recordingId))
        throw new Problem(409, "other-comment", "There is another comment by this id.");
      if (there) return { result: id, events: [] };
      if (written!.own >= MOST_OF_ONE) throw tooMany(`You have written ${MOST_OF_ONE} comments here already.`);
      if (written!.every >= MOST) throw tooMany(`There are ${MOST} comments here already.`);
      const said = await read(transaction);
      await this.#comments.create({ id, recordingId, viewerId: viewer.id, ...said }, { transaction });
      return { result: id, events: [event(id)] };
    });
  }

  async #require(recordingId: string, viewer: Viewer, deed: "edit" | "remove" | "settle", id: string): Promise<void> {
    const comment = await this.#comments.findOne({ where: { id, recordingId }, attributes: ["viewerId"] });
    if (!comment) throw gone();
    if (!mayOnComment(viewer, deed, { authorId: comment.viewerId }))
      throw new Problem(403, "not-yours", "This comment is somebody else's.");
  }
}

function requireName(viewer: Viewer): void {
  if (viewer.needsName) throw new Problem(422, "no-name", "Give your name first, so that people know who is speaking.");
}

const tooMany = (words: string) =>
  new Problem(
    409,
    "many-comments",
    `${words} Yours is still in the field; it finds a place when another one is deleted.`,
  );
const gone = () => new Problem(404, "no-such-comment", "This comment is not there any more.");
