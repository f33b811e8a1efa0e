import { randomUUID } from "node:crypto";
import { Transaction } from "sequelize";
import { mayInWorkspace, type Subject } from "#core/access/access";
import { rightIn, type ColleaguesRight } from "#core/access/folders";
import { noFolder, requireFolder, type KnownFolder } from "../access/folder-facts";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Channel } from "../live/channel";
import { likeOf } from "../recordings/library-query";
import { addable, CHILDREN, COUNT_FOLDERS, DEPTH, ELSEWHERE, MOVE_UP, outermost, REFRESH_TREE } from "./sql";

/** How many lie in one another; the table says so as well. */
export const MOST_DEEP = 8;
const MOST_FOLDERS = 20_000;
/** Folders on one page; more are found by their names. */
const MOST_SHOWN = 60;
const MOST_FOUND = 20;

export interface FolderLine {
  id: string;
  name: string;
}
/** The folders that somebody finds in their library. */
export interface Shelf {
  folders: FolderLine[];
  /** there are more than are shown */
  more: boolean;
  /** those that they were given in workspaces that they look at no more than that */
  elsewhere: (FolderLine & { workspace: string })[];
}
/** A folder to which something can be added, with those above it that may be told. */
export interface FoundFolder extends FolderLine {
  above: string[];
}

/** The tree of folders of a workspace. */
export class Folders {
  constructor(
    private readonly db: Database,
    private readonly channel: Channel,
  ) {}

  async shelf(member: SignedIn): Promise<Shelf> {
    const bind = [member.workspaceId, member.id, MOST_SHOWN + 1];
    const [folders, elsewhere] = await Promise.all([
      this.db.rows<FolderLine>(outermost(owns(member)), bind),
      this.db.rows<Shelf["elsewhere"][number]>(ELSEWHERE, bind),
    ]);
    const more = folders.length > MOST_SHOWN;
    return { folders: folders.slice(0, MOST_SHOWN), more, elsewhere: elsewhere.slice(0, MOST_SHOWN) };
  }

  /** May this member put into this folder what they record where they are? */
  async takesIn(member: SignedIn, id: string): Promise<boolean> {
    try {
      return (await this.require(member, "add", id)).workspaceId === member.workspaceId;
    } catch (problem) {
      if (problem instanceof Problem) return false;
      throw problem;
    }
  }

  /** @returns the folder, which is there until the transaction ends; null where it is gone */
  async hold(id: string, transaction: Transaction): Promise<string | null> {
    const lock = transaction.LOCK.KEY_SHARE;
    return (await this.db.models.Folder.findByPk(id, { transaction, lock }))?.id ?? null;
  }

  /** Folders to which this member may add, by a part of the name. */
  find(member: SignedIn, q: string): Promise<FoundFolder[]> {
    return this.db.rows<FoundFolder>(addable(owns(member)), [member.workspaceId, member.id, likeOf(q), MOST_FOUND]);
  }

  /** The folders in one that this person may see. */
  async within(folder: KnownFolder): Promise<{ folders: FolderLine[]; more: boolean }> {
    const folders = await this.db.rows<FolderLine>(CHILDREN, [folder.id, MOST_SHOWN + 1]);
    return { folders: folders.slice(0, MOST_SHOWN), more: folders.length > MOST_SHOWN };
  }

  /**
   * Whoever makes a folder manages it; nobody else sees it, unless they see the one that it lies in.
   * @param parentId null for one that lies in no other
   * @returns its id
   */
  async make(member: SignedIn, { name, parentId }: { name: string; parentId: string | null }): Promise<string> {
    const parent = parentId ? await this.#target(member, parentId) : null;
    const { id: personId, workspaceId } = member;
    if (!mayInWorkspace(member, "use", workspaceId)) throw noFolder();
    return this.#changeTree(workspaceId, async (transaction) => {
      const [count] = await this.db.rows<{ n: number }>(COUNT_FOLDERS, [workspaceId, MOST_FOLDERS], transaction);
      if (count!.n >= MOST_FOLDERS)
        throw new Problem(422, "too-many", `At most ${MOST_FOLDERS.toLocaleString("en-GB")} folders.`);
      const id = randomUUID();
      const { Folder, FolderPerson } = this.db.models;
      // Where the one above lies now: it may have been moved since it was looked at.
      const above = parent ? await Folder.findByPk(parent.id, { transaction }) : null;
      if (parent && !above) throw noFolder();
      const path = [...(above?.path ?? []), id];
      if (path.length > MOST_DEEP) throw tooDeep();
      const colleaguesHere = above?.colleaguesHere ?? null;
      await Folder.create({ id, workspaceId, parentId, path, name, colleaguesHere }, { transaction });
      // Whoever manages the one above manages what is in it.
      if (parent && rightIn(member, parent) === "manage") return id;
      const maker = { id: randomUUID(), folderId: id, personId, may: "manage" as const, key: randomUUID() };
      await FolderPerson.create({ ...maker, name: member.name, email: null }, { transaction });
      return id;
    });
  }

  async rename(member: SignedIn, id: string, name: string): Promise<void> {
    await this.require(member, "manage", id);
    await this.db.models.Folder.update({ name }, { where: { id } });
  }

  /** What everybody of the workspace may do in it, and in all that lies under it. */
  async openTo(member: SignedIn, id: string, colleagues: ColleaguesRight | null): Promise<void> {
    const { workspaceId } = await this.require(member, "manage", id);
    await this.#changeTree(workspaceId, async (transaction) => {
      await this.db.models.Folder.update({ colleagues }, { where: { id }, transaction });
      await this.db.rows(REFRESH_TREE, [id], transaction);
    });
    await this.changed(id);
  }

  /**
   * Puts a folder with all that is in it into another one.
   * @param parentId null for none
   * @throws {Problem} 422 where it would lie in itself, or too deep
   */
  async move(member: SignedIn, id: string, parentId: string | null): Promise<void> {
    const { workspaceId } = await this.require(member, "manage", id);
    const target = parentId ? await this.#target(member, parentId) : null;
    if (target && target.workspaceId !== workspaceId) throw noFolder();
    await this.#changeTree(workspaceId, async (transaction) => {
      const { Folder } = this.db.models;
      const above = target ? await Folder.findByPk(target.id, { transaction }) : null;
      if (target && !above) throw noFolder();
      if (above?.path.includes(id))
        throw new Problem(422, "in-itself", "A folder cannot lie in itself, or in one that lies in it.");
      const [{ depth }] = (await this.db.rows<{ depth: number }>(DEPTH, [id], transaction)) as [{ depth: number }];
      if ((above?.path.length ?? 0) + depth > MOST_DEEP) throw tooDeep();
      await Folder.update({ parentId }, { where: { id }, transaction });
      if (!owns(member)) await this.#letManage(member, id, transaction);
      await this.db.rows(REFRESH_TREE, [id], transaction);
    });
    await this.changed(id);
  }

  /** Takes a folder away. What lay in it lies in the one above then: nobody sees more, and nothing is deleted. */
  async remove(member: SignedIn, id: string): Promise<void> {
    const { workspaceId } = await this.require(member, "manage", id);
    await this.#changeTree(workspaceId, async (transaction) => {
      const moved = await this.db.rows<{ id: string }>(MOVE_UP, [id], transaction);
      for (const child of moved) await this.db.rows(REFRESH_TREE, [child.id], transaction);
      await this.db.models.Folder.destroy({ where: { id }, transaction });
    });
    await this.changed(id);
  }

  /** @throws {Problem} 404, the same whether it is hidden or absent */
  require(subject: Subject, deed: "see" | "add" | "manage", id: string): Promise<KnownFolder> {
    return requireFolder(this.db, subject, deed, id);
  }

  /** To be called after every change of who belongs to a folder, or of where it lies. */
  changed(id: string): Promise<void> {
    return this.channel.tell({ topic: "folder", id });
  }

  /** Where something is put: a folder of the workspace that the member looks at. */
  async #target(member: SignedIn, id: string): Promise<KnownFolder> {
    const folder = await this.require(member, "add", id);
    if (folder.workspaceId !== member.workspaceId) throw noFolder();
    return folder;
  }

  /** Whoever managed a folder by one above goes on managing it where it lies now. */
  async #letManage({ id: personId, name }: SignedIn, folderId: string, transaction: Transaction): Promise<void> {
    const { FolderPerson } = this.db.models;
    const where = { folderId, personId };
    const defaults = { ...where, id: randomUUID(), name, email: null, may: "manage" as const, key: randomUUID() };
    const [row, isNew] = await FolderPerson.findOrCreate({ where, defaults, transaction });
    if (!isNew) await row.update({ may: "manage" }, { transaction });
  }

  /** One change of a workspace's tree at a time: two moves that cross could make a ring. */
  #changeTree<T>(workspaceId: string, change: (transaction: Transaction) => Promise<T>): Promise<T> {
    return this.db.sequelize.transaction(async (transaction) => {
      const lock = Transaction.LOCK.NO_KEY_UPDATE;
      await this.db.models.Workspace.findByPk(workspaceId, { lock, transaction });
      return change(transaction);
    });
  }
}

const owns = (member: SignedIn) => mayInWorkspace(member, "manage", member.workspaceId);

const tooDeep = () =>
  new Problem(422, "too-deep", `Folders lie in one another at most ${MOST_DEEP} deep. Choose one further out.`);
