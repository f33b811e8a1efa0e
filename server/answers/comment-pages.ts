import Joi from "joi";
import type { ReactionKind } from "#core/answers/kinds";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { uuidField } from "../http/fields";
import { shownLineOf, shownOnly, sourceOf } from "../recordings/shown-lines";
import { shownComments, type ShownComment } from "./comments";
import { COMMENTS_AROUND, COMMENTS_BEFORE, COMMENTS_OF_THREAD, REACTIONS_ALONG, THREADS, THREADS_ALONG } from "./sql";
import { SERVED_REACTIONS } from "./reactions";

/** Comments that a page is served with, and that each further page has. */
const PAGE = 100;
/** Threads on each side of a moment, and replies of each. */
const AROUND = 25;
const REPLIES = 4;
/** Replies of one thread that is opened. */
const THREAD = 500;
/** Parts of a recording's length over which what is there is counted. */
const PARTS = 120;

/** What has come of the comments; of each thread its beginning is among them. In order of time. */
export interface SomeComments {
  comments: ShownComment[];
}

export interface CommentPage extends SomeComments {
  /** what was written before this is not among them; null where nothing is */
  before: string | null;
}

/** What is served with a page. */
export interface FirstComments extends CommentPage {
  /** how many threads there are in all, shown or not */
  threads: number;
}

/** How much was said along what is shown: threads, and reactions besides those that the page was served with. */
export interface Along {
  /** the length of a part, us */
  part: Micros;
  threads: { at: Micros; count: number }[];
  reactions: { kind: ReactionKind; at: Micros; count: number }[];
}

/** What a page asks for besides what it was served with: one of these. */
export type AskedComments =
  { before: string } | { around: Micros; revision: number | null } | { thread: string } | { along: true };

const CURSOR = /^(\d{1,16})\.([\da-f]{8}-(?:[\da-f]{4}-){3}[\da-f]{12})$/;
export const askedCommentsForm = Joi.object({
  before: Joi.string().pattern(CURSOR),
  around: Joi.number().integer().min(0),
  revision: Joi.number().integer().min(1).default(null),
  thread: uuidField,
  along: Joi.valid("yes").custom(() => true),
}).xor("before", "around", "thread", "along");

/** The comments of a recording as pages have them: some at a time, however many there are. */
export class CommentPages {
  constructor(private readonly db: Database) {}

  /** The newest, with which a page begins. */
  async first(recordingId: string): Promise<FirstComments> {
    const [page, [row]] = await Promise.all([
      this.#before(recordingId, null),
      this.db.rows<{ count: number }>(THREADS, [recordingId]),
    ]);
    return { ...page, threads: row!.count };
  }

  /** @throws {Problem} 422 for a moment that is not there */
  async more(recordingId: string, asked: AskedComments): Promise<CommentPage | SomeComments | Along> {
    if ("before" in asked) return this.#before(recordingId, asked.before);
    if ("along" in asked) return this.#along(recordingId);
    if ("thread" in asked) return this.#shown(recordingId, COMMENTS_OF_THREAD, [asked.thread, THREAD]);
    const at = sourceOf(await shownLineOf(this.db, recordingId, asked.revision), asked.around);
    return this.#shown(recordingId, COMMENTS_AROUND, [at, AROUND, REPLIES]);
  }

  async #before(recordingId: string, cursor: string | null): Promise<CommentPage> {
    const [, moment, id] = (cursor && CURSOR.exec(cursor)) || [null, null, null];
    type Row = ShownComment & { place: number; cursor: string | null };
    const [line, rows] = await Promise.all([
      shownLineOf(this.db, recordingId),
      this.db.rows<Row>(COMMENTS_BEFORE, [recordingId, PAGE, moment, id]),
    ]);
    const last = rows.find(({ place }) => place === PAGE);
    const comments = rows.map(({ place: _, cursor: __, ...comment }) => comment);
    return { comments: shownComments(line, comments), before: last?.cursor ?? null };
  }

  async #shown(recordingId: string, sql: string, bind: unknown[]): Promise<SomeComments> {
    const [line, comments] = await Promise.all([
      shownLineOf(this.db, recordingId),
      this.db.rows<ShownComment>(sql, [recordingId, ...bind]),
    ]);
    return { comments: shownComments(line, comments) };
  }

  async #along(recordingId: string): Promise<Along> {
    const line = await shownLineOf(this.db, recordingId);
    const part = Math.max(1, Math.ceil(line.length / PARTS));
    const [threads, reactions] = await Promise.all([
      this.db.rows<Along["threads"][number]>(THREADS_ALONG, [recordingId, part]),
      this.db.rows<Along["reactions"][number]>(REACTIONS_ALONG, [recordingId, part, SERVED_REACTIONS]),
    ]);
    return { part, threads: shownOnly(line, threads), reactions: shownOnly(line, reactions) };
  }
}
