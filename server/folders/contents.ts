import Joi from "joi";
import type { Audience, Subject } from "#core/access/access";
import { changeOfSight, type MovedPart, type OfFolder, type PeopleOfFolder, type SightChange } from "#core/access/move";
import type { AccessFacts } from "../access/facts";
import { noFolder, orNoFolder, type KnownFolder } from "../access/folder-facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { readJsonCursor, timestampField, uuidField, writeJsonCursor } from "../http/fields";
import { Problem } from "../http/problem";
import type { LibraryPage } from "../recordings/library";
import { toRow, type LibraryRow, type RawRow } from "../recordings/rows";
import type { Folders } from "./folders";
import { ARRIVED, folderPage, LYING, LYING_UNDER, PEOPLE_OF_PATHS, putIn } from "./sql";

const PAGE = 50;
/** Groups of recordings that a move of a folder is looked at by. */
const MOST_GROUPS = 5_000;

const cursor = Joi.array().ordered(timestampField.required(), uuidField.required());

/** Recordings that are to lie somewhere else. */
export interface Placing {
  recordings: string[];
  /** the folder; null for nowhere */
  to: string | null;
  /** drafts are for the folder's people from then on */
  open: boolean;
}
export interface ChangeOfSight {
  gains: SightChange;
  loses: SightChange;
}

/** A recording of a folder, and when it came there. */
export type ArrivedRow = LibraryRow & { arrivedAt: string };

interface Lying {
  folderId: string | null;
  audience: Audience;
  ownerId: string;
  count: number;
}
interface OfPath {
  of: string;
  path: string[];
  openBy: string[];
  people: (OfFolder & { by: string })[];
}
const NOBODY: PeopleOfFolder = { people: [], colleagues: false };

/** What lies in folders, and who sees more or less of it when it is moved. */
export class FolderContents {
  constructor(
    private readonly db: Database,
    private readonly folders: Folders,
    private readonly access: AccessFacts,
  ) {}

  /** The recordings of a folder that somebody may watch, in one query. */
  async page(subject: Subject, folder: KnownFolder, after: string | null): Promise<LibraryPage> {
    const from = after === null ? [] : readJsonCursor(after, cursor);
    const rows = await this.db.rows<RawRow & { position: string }>(folderPage(after !== null), [
      ...looking(subject, folder),
      PAGE + 1,
      ...from,
    ]);
    const last = rows.length > PAGE ? rows[PAGE - 1] : undefined;
    return {
      rows: rows.slice(0, PAGE).map((row) => toRow(row, subject?.id ?? null)),
      next: last ? writeJsonCursor(last.position, last.id) : null,
    };
  }

  /** What of that came to lie there last, and when. */
  async arrived(subject: Subject, folder: KnownFolder): Promise<ArrivedRow[]> {
    const rows = await this.db.rows<RawRow & { arrivedAt: Date }>(ARRIVED, [...looking(subject, folder), PAGE]);
    return rows.map((row) => ({ ...toRow(row, subject?.id ?? null), arrivedAt: row.arrivedAt.toISOString() }));
  }

  /** Puts recordings of one's own into a folder, all or none. @throws {Problem} 404 where one is not one's own */
  async put(member: SignedIn, { recordings, to, open }: Placing): Promise<void> {
    await this.#requireTarget(member, to);
    const done = this.db.sequelize.transaction(async (transaction) => {
      const bind = [recordings, member.id, member.workspaceId, to];
      const put = await this.db.rows(putIn(open && to !== null), bind, transaction);
      if (put.length < recordings.length) throw notAll();
    });
    await orNoFolder(done);
    for (const id of recordings) await this.access.changed(id);
  }

  /**
   * Takes out of a folder that somebody manages what anybody has put there; it lies nowhere then.
   * @throws {Problem} 404 where it does not lie there
   */
  async takeOut(member: SignedIn, id: string, recording: string): Promise<void> {
    await this.folders.require(member, "manage", id);
    const where = { id: recording, folderId: id };
    const [taken] = await this.db.models.Recording.update({ folderId: null }, { where });
    if (taken === 0) throw new Problem(404, "not-found", "It does not lie in this folder any more.");
    await this.access.changed(recording);
  }

  /** Who would gain and who would lose sight by that. */
  async sight(member: SignedIn, { recordings, to, open }: Placing): Promise<ChangeOfSight> {
    await this.#requireTarget(member, to);
    const lying = await this.db.rows<Lying>(LYING, [recordings, member.id, member.workspaceId]);
    if (lying.reduce((sum, { count }) => sum + count, 0) < recordings.length) throw notAll();
    const peopleOf = await this.#people(member.workspaceId, [...lying.map(({ folderId }) => folderId), to]);
    const opened = open && to !== null;
    return changeOfSight(
      lying.map(({ folderId, ...part }): MovedPart => {
        const isOpened = opened && part.audience === "owner";
        const from = isOpened ? NOBODY : told(peopleOf(folderId));
        return { ...part, from, to: told(peopleOf(to)), audience: isOpened ? "folder" : part.audience };
      }),
    );
  }

  /** Who would gain and who would lose sight if a folder were moved with all that is in it. */
  async sightOfFolder(member: SignedIn, id: string, to: string | null): Promise<ChangeOfSight> {
    const { workspaceId } = await this.folders.require(member, "manage", id);
    await this.#requireTarget(member, to);
    const lying = await this.db.rows<Lying>(LYING_UNDER, [id, MOST_GROUPS]);
    const peopleOf = await this.#people(workspaceId, [...lying.map(({ folderId }) => folderId), to]);
    const above = peopleOf(to);
    return changeOfSight(
      lying.map(({ folderId, ...part }): MovedPart => {
        const from = peopleOf(folderId);
        const kept = new Set(from.path.slice(from.path.indexOf(id)));
        const stays = from.people.filter(({ by }) => kept.has(by));
        const openBy = [...from.openBy.filter((one) => kept.has(one)), ...above.openBy];
        return { ...part, from: told(from), to: told({ ...above, people: [...stays, ...above.people], openBy }) };
      }),
    );
  }

  async #requireTarget(member: SignedIn, to: string | null): Promise<void> {
    if (to === null) return;
    const { workspaceId } = await this.folders.require(member, "add", to);
    if (workspaceId !== member.workspaceId) throw noFolder();
  }

  async #people(workspaceId: string, folders: (string | null)[]): Promise<(id: string | null) => OfPath> {
    const ids = [...new Set(folders.filter((id) => id !== null))];
    const rows = ids.length > 0 ? await this.db.rows<OfPath>(PEOPLE_OF_PATHS, [ids, workspaceId]) : [];
    const byFolder = new Map(rows.map((row) => [row.of, row]));
    return (id) => byFolder.get(id ?? "") ?? { of: "", path: [], openBy: [], people: [] };
  }
}

/** Who looks into which folder, as the statements of its contents ask for it. */
function looking(subject: Subject, folder: KnownFolder) {
  const passes = (subject?.passes ?? []).filter(({ by }) => by === "folder").map(({ of }) => of);
  return [folder.id, subject?.id ?? null, (subject?.memberships ?? []).map((m) => m.workspaceId), passes];
}

const told = ({ people, openBy }: OfPath): PeopleOfFolder => ({ people, colleagues: openBy.length > 0 });

const notAll = () =>
  new Problem(404, "not-found", "Not all of these recordings are there any more, or yours. Nothing was moved.");
