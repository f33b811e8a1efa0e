import { randomBytes, randomUUID } from "node:crypto";
import Joi from "joi";
import type { Logger } from "pino";
import type { Transaction } from "sequelize";
import type { AccessFacts } from "../access/facts";
import { Afterwards } from "../afterwards";
import type { Database } from "../database/connection";
import { jsonField, uuidField } from "../http/fields";
import { Problem } from "../http/problem";
import { removeMedia, takesOf, type Erased, type RemoveLater } from "../recordings/erase";
import type { Storage } from "../storage/storage";
import type { Workspaces } from "../workspaces/workspaces";
import { currentField, type Account } from "./account";
import type { Sessions, SignedIn } from "./sessions";
import { LEAVE_VIEWERS, PARTINGS } from "./sql";

/** So many people of a workspace are offered. */
const MOST_HEIRS = 200;
/** What is said of them where they have said something. */
const LEFT = "Somebody who has left";

export const endAccountForm = Joi.object({
  current: currentField,
  heirs: jsonField("Who gets what you made", Joi.object().pattern(uuidField, uuidField.required()).max(200), 20_000),
});

/** What becomes of a workspace of somebody's when their account ends. */
export interface Parting {
  id: string;
  name: string;
  /** what they made there passes to one of these; where there are none, all of it ends with the account */
  heirs: { id: string; name: string }[];
  /** how many recordings that is about */
  recordings: number;
}

interface Parts {
  db: Database;
  storage: Storage;
  access: AccessFacts;
  account: Account;
  sessions: Sessions;
  workspaces: Workspaces;
  log: Logger;
  /** ends what is being done for a recording */
  stopWork: (recordingId: string) => Promise<void>;
  /** asks for the files of what is gone to be removed */
  removeLater: RemoveLater;
}

/** The end of an account. What others need stays: recordings of shared workspaces, and what was said at links. */
export class Leaving {
  #afterwards: Afterwards;

  constructor(private readonly parts: Parts) {
    this.#afterwards = new Afterwards(parts.log, "media of an ended account");
  }

  partings(personId: string): Promise<Parting[]> {
    return this.parts.db.rows<Parting>(PARTINGS, [personId, MOST_HEIRS]);
  }

  /**
   * Ends an account for good. Files are removed afterwards, by another process where this one ends before.
   * @param heirs who gets what they made, by workspace
   * @throws {Problem} 422 for a wrong password, 409 where somebody has come or gone meanwhile
   */
  async end(
    member: SignedIn,
    { current, heirs }: { current: string; heirs: Record<string, string> },
    address: string,
  ): Promise<void> {
    const { db, access, account, sessions } = this.parts;
    await account.requirePassword(member, current, address);
    const gone: Erased = { recordingIds: [], takes: [] };
    const changed = await db.sequelize.transaction(async (transaction) => {
      const told: string[] = [];
      // Always in the same order: two who leave each other's workspaces wait, and go one after the other.
      const memberships = await db.models.Member.findAll({
        where: { personId: member.id },
        order: ["workspaceId"],
        transaction,
      });
      for (const { workspaceId } of memberships)
        told.push(...(await this.#part(member.id, workspaceId, heirs[workspaceId], gone, transaction)));
      await this.#leaveViewers(member.id, transaction);
      await db.models.Person.destroy({ where: { id: member.id }, transaction });
      if (gone.recordingIds.length > 0) await this.parts.removeLater(gone, transaction);
      return told;
    });
    for (const id of [member.id, ...changed]) await sessions.changed(id);
    for (const id of gone.recordingIds) await access.changed(id);
    this.#afterwards.do(async () => {
      for (const id of gone.recordingIds) await this.parts.stopWork(id);
      await removeMedia(this.parts, gone);
    });
    await account.tellOfEnd(member);
  }

  /** Ends when the files of everybody who has left are removed. */
  settled = (): Promise<void> => this.#afterwards.settled();

  /** @returns whose rights have changed */
  async #part(
    person: string,
    workspaceId: string,
    heir: string | undefined,
    gone: Erased,
    transaction: Transaction,
  ): Promise<string[]> {
    const { db, workspaces } = this.parts;
    const { Member, Recording, Workspace } = db.models;
    await Workspace.findByPk(workspaceId, { lock: transaction.LOCK.UPDATE, transaction });
    const others = await Member.findAll({ where: { workspaceId }, transaction });
    // Nothing is removed that was to pass on to somebody who has left as well.
    if (others.length === 1 && !heir) {
      const recordings = await Recording.findAll({ where: { workspaceId }, attributes: ["id"], transaction });
      const ids = recordings.map(({ id }) => id);
      gone.recordingIds.push(...ids);
      gone.takes.push(...(await takesOf(db, ids, transaction)));
      await Workspace.destroy({ where: { id: workspaceId }, transaction });
      return [];
    }
    if (!heir || heir === person || !others.some(({ personId }) => personId === heir))
      throw new Problem(409, "no-heir", "Who belongs to your workspaces has changed. Load this page anew.");
    await workspaces.takeOut({ workspaceId, person, heir }, transaction);
    // Who gets what they made can look after it as well, where nobody else would.
    if ((await Member.count({ where: { workspaceId, role: "owner" }, transaction })) === 0)
      await Member.update({ role: "owner" }, { where: { workspaceId, personId: heir }, transaction });
    return [heir];
  }

  /** What they watched and said stays, as of a guest of whom nothing is known. */
  async #leaveViewers(personId: string, transaction: Transaction): Promise<void> {
    const guest = { id: randomUUID(), key: randomBytes(32), name: LEFT };
    await this.parts.db.models.Guest.create(guest, { transaction });
    await this.parts.db.rows(LEAVE_VIEWERS, [personId, guest.id], transaction);
  }
}
