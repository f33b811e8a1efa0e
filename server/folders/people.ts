import { randomUUID } from "node:crypto";
import { nanoid } from "nanoid";
import type { Transaction } from "sequelize";
import type { Pass, Subject } from "#core/access/access";
import type { FolderRight } from "#core/access/folders";
import type { NoticeTime } from "#core/notices/wishes";
import { noFolder, orNoFolder, type KnownFolder } from "../access/folder-facts";
import { requireOutside } from "../access/require";
import type { SignedIn } from "../accounts/sessions";
import { requireInvitees, requireNoNamesakes } from "../answers/invitees";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { NewMail, Post } from "../mail/post";
import type { DeedLimits } from "../deed-limits";
import { LOOK_AT_NEWS_ANEW } from "../notices/sql";
import type { Folders } from "./folders";
import { ADD_FOLDER_PEOPLE, FOLDER_PEOPLE, LEAVE_FOLDERS, REMOVE_FOLDER_PERSON } from "./sql";

const MOST_PEOPLE = 500;

/** Somebody of a folder, as those who manage it see them. */
export interface FolderPersonRow {
  id: string;
  name: string;
  email: string | null;
  may: FolderRight;
  /** of the personal link; null for whoever is known by their account */
  key: string | null;
  mailedAt: string | null;
  bounced: string | null;
  isColleague: boolean;
  /** the folder above that names them; null for this one */
  by: { id: string; name: string } | null;
}

/** Somebody who was let in. */
interface Added {
  id: string;
  name: string;
  email: string | null;
  key: string;
  personId: string | null;
}

/** Somebody who was taken out. */
type Removed = Pick<Added, "name" | "email" | "personId">;

/** Who belongs to a folder. */
export class FolderPeople {
  constructor(
    private readonly db: Database,
    private readonly parts: { folders: Folders; post: Post; limits: DeedLimits },
    private readonly publicUrl: string,
  ) {}

  /** The people of a folder, and of those above that may be told. */
  async list(folder: KnownFolder): Promise<FolderPersonRow[]> {
    type Raw = Omit<FolderPersonRow, "by" | "mailedAt"> & {
      folderId: string;
      mailedAt: Date | null;
      personId: string | null;
    };
    const folders = [...folder.above, folder];
    const rows = await this.db.rows<Raw>(FOLDER_PEOPLE, [folders.map(({ id }) => id), folder.workspaceId]);
    return rows.map(({ folderId, personId, mailedAt, key, ...row }) => {
      const by = folders.find(({ id }) => id === folderId && id !== folder.id);
      return {
        ...row,
        key: personId ? null : key,
        mailedAt: mailedAt?.toISOString() ?? null,
        by: by ? { id: by.id, name: by.name } : null,
      };
    });
  }

  /**
   * Lets in the people in a text, and mails those with an address. Colleagues are known by their accounts; everybody
   * else gets a personal link, and may only look.
   * @param address where the member's request comes from, for limits
   * @returns how many were let in, and how many of them are mailed
   * @throws {Problem} 422 naming what is no address, and who is no colleague and was to do more; then nobody was let in
   */
  async add(member: SignedIn, id: string, { who, may }: { who: string; may: FolderRight }, address: string) {
    const folder = await this.parts.folders.require(member, "manage", id);
    const invitees = requireInvitees(who);
    await requireNoNamesakes(this.db, folder.workspaceId, invitees);
    const toMail = invitees.filter(({ email }) => email !== null).length;
    if (toMail > 0) await this.parts.limits.take("send", { viewer: member.id, address }, toMail);
    const letIn = this.db.sequelize.transaction(async (transaction) => {
      const there = await this.db.models.FolderPerson.count({ where: { folderId: id }, transaction });
      if (there + invitees.length > MOST_PEOPLE)
        throw new Problem(422, "too-many", `At most ${MOST_PEOPLE} people can belong to one folder.`);
      const keys = invitees.map(() => nanoid(16));
      const added = await this.db.rows<Added>(
        ADD_FOLDER_PEOPLE,
        [id, invitees.map(() => randomUUID()), invitees.map((i) => i.name), invitees.map((i) => i.email), keys, may],
        transaction,
      );
      const outside = added.filter(({ personId }) => !personId).map(({ name }) => name);
      if (outside.length > 0) requireOutside(member, folder.workspaceId);
      if (may !== "view" && outside.length > 0) throw noColleagues(outside);
      const mailed = added.filter(({ email, personId }) => email !== null && personId !== member.id);
      const mails: string[] = [];
      const told: string[] = [];
      for (const { id: one, name, email, key, personId } of mailed) {
        const letter = this.#letter(member, folder, { name, address: email! }, personId ? null : key);
        // A colleague finds the folder without it; to anybody else the letter is the way in.
        const mail = personId
          ? await this.#tell(letter, transaction)
          : await this.parts.post.write(letter, transaction);
        if (mail === null) continue;
        mails.push(mail);
        told.push(one);
      }
      const where = { id: told };
      await this.db.models.FolderPerson.update({ mailedAt: new Date() }, { where, transaction });
      return { added: added.length, mails };
    });
    const { added, mails } = await orNoFolder(letIn);
    await this.parts.folders.changed(id);
    await this.parts.post.carryLater(mails);
    return { added, mailed: mails.length };
  }

  /** @throws {Problem} 422 where somebody who is no colleague would do more than look */
  async change(member: SignedIn, id: string, { person, may }: { person: string; may: FolderRight }): Promise<void> {
    await this.parts.folders.require(member, "manage", id);
    const { FolderPerson } = this.db.models;
    const row = await FolderPerson.findOne({ where: { id: person, folderId: id } });
    if (!row) return;
    if (may !== "view" && !row.personId) throw noColleagues([row.name]);
    await FolderPerson.update({ may }, { where: { id: person, folderId: id } });
    await this.parts.folders.changed(id);
  }

  /** Takes somebody out of a folder. Who has an address is told, so that nobody wonders at a link that is dead. */
  async remove(member: SignedIn, id: string, person: string): Promise<void> {
    const folder = await this.parts.folders.require(member, "manage", id);
    const mail = await this.db.sequelize.transaction(async (transaction) => {
      const [gone] = await this.db.rows<Removed>(REMOVE_FOLDER_PERSON, [person, id], transaction);
      if (!gone?.email || gone.personId === member.id) return null;
      return this.#tell(this.#farewell(member, folder, { name: gone.name, address: gone.email }), transaction);
    });
    await this.parts.folders.changed(id);
    if (mail) await this.parts.post.carryLater([mail]);
  }

  /** What is done is done, whether or not there is room for the letter that says so. */
  async #tell(mail: NewMail, transaction: Transaction): Promise<string | null> {
    try {
      return await this.parts.post.write(mail, transaction);
    } catch (problem) {
      if (problem instanceof Problem) return null;
      throw problem;
    }
  }

  /** Closes somebody's personal link, and gives them another one; nobody else's changes. */
  async newLink(member: SignedIn, id: string, person: string): Promise<void> {
    await this.parts.folders.require(member, "manage", id);
    const fresh = { key: nanoid(16), pass: randomUUID(), mailedAt: null };
    await this.db.models.FolderPerson.update(fresh, { where: { id: person, folderId: id } });
    await this.parts.folders.changed(id);
  }

  /** When somebody who came by their personal link is mailed what is new; null for whoever cannot be mailed so. */
  async newsFor(subject: Subject, id: string): Promise<NoticeTime | null> {
    const row = await this.#shown(subject, id);
    return row?.email ? row.news : null;
  }

  /** They want it mailed at other times. @param zone where their clock is. @throws {Problem} 404 for anybody else */
  async setNews(subject: Subject, id: string, { news, zone }: { news: NoticeTime; zone: string }): Promise<void> {
    const row = await this.#shown(subject, id);
    if (!row?.email) throw noFolder();
    await row.update({ news, zone });
    await this.parts.post.wantsAgain(row.email, "news");
    await this.db.rows(LOOK_AT_NEWS_ANEW, [row.id]);
  }

  /** Whoever shows the personal link of this folder. */
  async #shown(subject: Subject, id: string) {
    const pass = subject?.passes?.filter(({ by, to }) => by === "folder" && to === id).at(-1);
    return pass
      ? this.db.models.FolderPerson.findOne({ where: { pass: pass.of, folderId: id, personId: null } })
      : null;
  }

  /** Where a personal link of a folder leads, and what whoever has it shows from now on; null for none. */
  async personal(key: string): Promise<{ folderId: string; pass: Pass } | null> {
    const row = await this.db.models.FolderPerson.findOne({ where: { key, personId: null } });
    return row && { folderId: row.folderId, pass: { by: "folder", to: row.folderId, of: row.pass } };
  }

  /** Whoever leaves a workspace, within the transaction of that, belongs to none of its folders. */
  async leave(workspaceId: string, personId: string, transaction?: Transaction): Promise<void> {
    await this.db.rows(LEAVE_FOLDERS, [workspaceId, personId], transaction);
  }

  #letter(
    { id, name, email }: SignedIn,
    folder: KnownFolder,
    to: { name: string; address: string },
    key: string | null,
  ): NewMail {
    const way = key === null ? `f/${folder.id}` : `for/${key}`;
    return {
      kind: "folder",
      to,
      from: { id, name, address: email },
      letter: {
        subject: `${name} shares “${folder.name}” with you`,
        title: folder.name,
        paragraphs: [`${name} of ${folder.workspaceName} puts recordings for you here.`],
        link: { words: "Open the folder", url: `${this.publicUrl}/${way}` },
        foot: [
          ...(key === null ? [] : [`The link is yours: whoever has it sees what is in the folder. Do not pass it on.`]),
          `An answer to this mail goes to ${name}.`,
        ],
      },
    };
  }

  #farewell({ id, name, email }: SignedIn, folder: KnownFolder, to: { name: string; address: string }): NewMail {
    return {
      kind: "folder",
      to,
      from: { id, name, address: email },
      letter: {
        subject: `“${folder.name}” is not shared with you any more`,
        title: folder.name,
        paragraphs: [
          `${name} of ${folder.workspaceName} has taken you out of this folder. What is in it does not open for you now, unless it is shared with you in another way.`,
        ],
        foot: [`An answer to this mail goes to ${name}.`],
      },
    };
  }
}

const noColleagues = (names: readonly string[]) =>
  new Problem(
    422,
    "no-colleague",
    `Only colleagues put something here or manage it: ${names.slice(0, 3).join(", ")} may look. Nothing was changed.`,
  );
