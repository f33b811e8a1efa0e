import type { Owed } from "#core/answers/owed";
import { may, type Deed } from "#core/access/access";
import type { TakeSource } from "#core/media/tracks";
import type { About } from "#core/title/about";
import type { Chapter } from "#core/viewing/figures";
import { startOfTake, takeOf } from "#core/recipe/source-line";
import type { Note } from "#core/layout/entry";
import type { Micros } from "#core/time/micros";
import type { AccessFacts } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { writeJsonCursor } from "../http/fields";
import { Problem } from "../http/problem";
import type { Erase } from "./erase";
import { captionsAsShown, chaptersAsShown } from "#core/recipe/written";
import { shownLineOf, shownOnly } from "./shown-lines";
import { likeOf, OWED_GROUPS, readCursor, type LibraryQuery } from "./library-query";
import { toRow, type LibraryRow, type RawRow } from "./rows";
import { DESCRIBE, DETAILS, libraryGroups, libraryPage, NOTED, SET_CHAPTERS, TAKES_BEFORE } from "./sql";

const PAGE = 50;
/** What the watch page says of a recording. Chapters and captions are in shown time. */
export interface Details {
  id: string;
  title: string;
  titleVersion: number;
  sender: string;
  createdAt: string;
  hasPoster: boolean;
  description: string;
  tags: string[];
  chapters: { at: Micros; title: string }[];
  captions: { from: Micros; to: Micros; text: string }[];
}

/** What stands beside a recipe, in source time. */
export interface Written {
  chapters: Chapter[];
  captions: { from: Micros; to: Micros; text: string }[];
  /** the moment of the poster; null where it is chosen by itself */
  posterAt: Micros | null;
  /** it is a picture that was sent */
  posterOwn: boolean;
}

/** What a presenter wrote down of a recording. */
export interface Noted {
  /** in source time */
  chapters: Chapter[];
  /** as they are shown */
  /** moments of which a picture is wanted, as they are shown */
  stills: Micros[];
}
interface NotedRow extends Chapter {
  position: number;
  what: Note["what"];
}

/** A recording that gets another take. */
export interface TakenBefore {
  id: string;
  title: string;
  source: TakeSource;
}

/** A group of the ledger: its first rows, and how many there are in all. */
export interface LibraryGroup {
  owed: Owed;
  total: number;
  rows: LibraryRow[];
}

export interface LibraryPage {
  rows: LibraryRow[];
  /** where the next page starts; null at the end */
  next: string | null;
}

/** The lists of recordings, and what can be done with a row. */
export class Library {
  constructor(
    private readonly db: Database,
    private readonly access: AccessFacts,
    private readonly eraseForGood: Erase,
    /** what is said of one has changed */
    private readonly onTold: (id: string) => Promise<void>,
  ) {}

  /** One page, in one query. What may be listed is the `list` line of `core/access`. */
  async page(member: SignedIn, query: LibraryQuery): Promise<LibraryPage> {
    const after = readCursor(query.after, query.sort);
    const rows = await this.db.rows<RawRow & { position: string }>(libraryPage(query), [
      member.workspaceId,
      member.id,
      likeOf(query.q),
      PAGE + 1,
      ...(after ?? []),
    ]);
    const last = rows.length > PAGE ? rows[PAGE - 1] : undefined;
    return {
      rows: rows.slice(0, PAGE).map((r) => toRow(r, member.id)),
      next: last ? writeJsonCursor(last.position, last.id) : null,
    };
  }

  /** The first rows of each group by what is still owed, and how many each has, over the whole library. */
  async groups(member: SignedIn, { q, sort }: Pick<LibraryQuery, "q" | "sort">): Promise<LibraryGroup[]> {
    const bind = [member.workspaceId, member.id, likeOf(q)];
    const rows = await this.db.rows<RawRow & { owed: Owed; total: number }>(libraryGroups(sort), bind);
    return OWED_GROUPS.flatMap((owed) => {
      const some = rows.filter((row) => row.owed === owed);
      return some.length > 0 ? [{ owed, total: some[0]!.total, rows: some.map((row) => toRow(row, member.id)) }] : [];
    });
  }

  async details(id: string): Promise<Details> {
    const [row] = await this.db.rows<Omit<Details, "createdAt"> & { createdAt: Date }>(DETAILS, [id]);
    if (!row) throw new Problem(404, "not-found", "There is nothing here that you can open.");
    const line = await shownLineOf(this.db, id);
    return {
      ...row,
      createdAt: row.createdAt.toISOString(),
      chapters: chaptersAsShown(line, row.chapters),
      captions: captionsAsShown(line, row.captions),
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
    if (changed > 0) return this.onTold(id);
    const now = await Recording.findByPk(id, { attributes: ["title"] });
    // The same again, after an answer that was lost, is what was wanted.
    if (!now || now.title === title) return;
    throw new Problem(409, "changed-meanwhile", `It was changed in another window meanwhile, to “${now.title}”.`);
  }

  /**
   * @param seen what is replaced knowingly
   * @throws {Problem} 409 when it was changed meanwhile
   */
  async describe(member: SignedIn, id: string, { description, tags }: About, seen: About): Promise<void> {
    await this.#require(member, "change", id);
    const [changed] = await this.db.rows(DESCRIBE, [id, description, tags, seen.description, seen.tags]);
    if (!changed)
      throw new Problem(409, "changed-meanwhile", "It was changed in another window meanwhile. Yours was not kept.");
    await this.onTold(id);
  }

  /** What was written down while recording: points, as chapters that it could have, and stills. */
  async noted(id: string): Promise<Noted> {
    const rows = await this.db.rows<NotedRow>(NOTED, [id]);
    const of = (what: Note["what"]) =>
      rows.filter((row) => row.what === what).map((row) => ({ ...row, at: startOfTake(row.position) + row.at }));
    const wanted = of("still");
    const stills = wanted.length === 0 ? [] : shownOnly(await shownLineOf(this.db, id), wanted);
    return {
      chapters: of("point").map(({ at, title }) => ({ at, title })),
      stills: stills.map(({ at }) => at),
    };
  }

  /** The takes that are shown, in the order in which they are, and how long each is. */
  async shownTakes(id: string): Promise<{ position: number; length: Micros }[]> {
    const lengths = new Map<number, Micros>();
    for (const { from, to } of (await shownLineOf(this.db, id)).kept)
      lengths.set(takeOf(from), (lengths.get(takeOf(from)) ?? 0) + to - from);
    return [...lengths].map(([position, length]) => ({ position, length }));
  }

  /** What is written down of it, and what its owner has chosen, in source time. */
  async written(id: string): Promise<Written> {
    const attributes = ["chapters", "captions", "posterAt", "posterOwn"];
    const row = await this.db.models.Recording.findByPk(id, { attributes });
    return {
      chapters: row?.chapters ?? [],
      captions: row?.captions ?? [],
      posterAt: row?.posterAt ?? null,
      posterOwn: row?.posterOwn ?? false,
    };
  }

  /**
   * Other chapters, in source time.
   * @param seen those that are replaced knowingly
   * @throws {Problem} 409 when they were changed meanwhile
   */
  async setChapters(
    member: SignedIn,
    id: string,
    chapters: readonly Chapter[],
    seen: readonly Chapter[],
  ): Promise<void> {
    await this.#require(member, "change", id);
    const [changed] = await this.db.rows(SET_CHAPTERS, [id, JSON.stringify(inOrder(chapters)), JSON.stringify(seen)]);
    if (!changed) throw new Problem(409, "changed-meanwhile", "The chapters were changed in another window meanwhile.");
    await this.onTold(id);
  }

  /** The talking points become the chapters. @throws {Problem} 409 where it has others by now */
  async takeChapters(member: SignedIn, id: string): Promise<void> {
    await this.setChapters(member, id, (await this.noted(id)).chapters, []);
  }

  /**
   * What another take of a recording must know: it has the source of the first.
   * @throws {Problem} 404 where it is not there, or not theirs
   */
  async takenBefore(member: SignedIn, id: string): Promise<TakenBefore> {
    await this.#require(member, "feed", id);
    const [before] = await this.db.rows<TakenBefore>(TAKES_BEFORE, [id]);
    if (!before) throw new Problem(404, "not-found", "This recording is not there any more, or not yours.");
    return { id, title: before.title, source: before.source };
  }

  async delete(member: SignedIn, id: string): Promise<void> {
    await this.#require(member, "change", id);
    await this.db.models.Recording.update({ deletedAt: new Date() }, { where: { id } });
    await this.access.changed(id);
  }

  /** It stays, used or not; or goes as others do. */
  async spare(member: SignedIn, id: string, spared: boolean): Promise<void> {
    await this.#require(member, "change", id);
    await this.db.models.Recording.update({ spared, goesAt: null }, { where: { id } });
  }

  async restore(member: SignedIn, id: string): Promise<void> {
    await this.#require(member, "restore", id);
    await this.db.models.Recording.update({ deletedAt: null, usedAt: new Date(), goesAt: null }, { where: { id } });
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

/** In the order of their moments, one at each. */
const inOrder = (chapters: readonly Chapter[]): Chapter[] =>
  [...new Map(chapters.map((chapter) => [chapter.at, chapter])).values()].sort((a, b) => a.at - b.at);
