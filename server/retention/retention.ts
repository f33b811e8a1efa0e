import Joi from "joi";
import { Op } from "sequelize";
import { MOST_GOING, UNUSED_DAYS, type UnusedDays } from "#core/retention/retention";
import type { AccessFacts } from "../access/facts";
import { requireDeed } from "../access/require";
import type { Sessions, SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import type { Queue } from "../jobs/queue";
import { LET_GO, NOTHING_GOES, OF_GOING, PUT_USED, TELL_UNUSED, UNUSED } from "./sql";

export const unusedForm = Joi.object({
  days: Joi.number()
    .valid(...UNUSED_DAYS)
    .required(),
});

/** So many recordings are looked at between two looks at whether the work is still wanted. */
const BATCH = 500;

/** A recording that was not used for long, as far as is known, and since when. */
interface Unused {
  id: string;
  usedAt: string;
}

/** Recordings that nobody uses are deleted, where a workspace wants that: told before, and restored if need be. */
export class Retention {
  constructor(
    private readonly parts: {
      db: Database;
      access: AccessFacts;
      sessions: Sessions;
      queue: Pick<Queue, "send">;
    },
  ) {}

  /** How many of a workspace go next; counted up to a bound. */
  async going(workspaceId: string): Promise<number> {
    const [row] = await this.parts.db.rows<{ count: number }>(OF_GOING, [workspaceId, MOST_GOING + 1]);
    return row!.count;
  }

  /**
   * From now on recordings of a member's workspace go after so many days without use; 0: never. What was told to go
   * before is told anew, as far as it goes at all.
   * @throws {Problem} 403 for those who may not
   */
  async set(member: SignedIn, { days }: { days: UnusedDays }): Promise<void> {
    requireDeed(member, "manage");
    const { db, sessions, queue } = this.parts;
    const { workspaceId } = member;
    const { Workspace } = db.models;
    const unusedDays = days === 0 ? null : days;
    const changed = await db.sequelize.transaction(async (transaction) => {
      const workspace = await Workspace.findByPk(workspaceId, { transaction, lock: transaction.LOCK.UPDATE });
      // The same again takes nothing back.
      if (!workspace || workspace.unusedDays === unusedDays) return false;
      await workspace.update({ unusedDays }, { transaction });
      await db.rows(NOTHING_GOES, [workspaceId], transaction);
      return true;
    });
    if (!changed) return;
    await sessions.changedIn(workspaceId);
    if (unusedDays !== null) await queue.send("retain", {});
  }

  /** Looks through every workspace that wants it. @returns how many were told to go, and how many went */
  async run(signal: AbortSignal): Promise<{ told: number; gone: number }> {
    const sum = { told: 0, gone: 0 };
    const { Workspace } = this.parts.db.models;
    const some = await Workspace.findAll({ where: { unusedDays: { [Op.ne]: null } }, attributes: ["id"] });
    for (const { id } of some) await this.#workspace(id, sum, signal);
    return sum;
  }

  async #workspace(id: string, sum: { told: number; gone: number }, signal: AbortSignal): Promise<void> {
    const { db, access } = this.parts;
    let after: Unused | null = null;
    for (;;) {
      signal.throwIfAborted();
      const unused: Unused[] = await db.rows<Unused>(UNUSED, [id, BATCH, after?.usedAt ?? null, after?.id ?? null]);
      if (unused.length === 0) return;
      after = unused.at(-1)!;
      const ids = unused.map((one) => one.id);
      await db.rows(PUT_USED, [ids]);
      const gone = await db.rows<{ id: string }>(LET_GO, [ids]);
      for (const one of gone) await access.changed(one.id);
      sum.gone += gone.length;
      sum.told += (await db.rows(TELL_UNUSED, [ids])).length;
    }
  }
}
