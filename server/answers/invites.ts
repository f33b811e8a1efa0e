import { randomUUID } from "node:crypto";
import { nanoid } from "nanoid";
import type { Database } from "../database/connection";
import { onlyOwners } from "../access/require";
import { Problem } from "../http/problem";
import { requireInvitees, requireNoNamesakes } from "./invitees";
import type { Events } from "../live/events";
import { ADD_INVITES, CAME_BEFORE } from "./sql";

const MOST = 500;
/** What the sender's pages are told when the people of a recording have changed. */
export const PEOPLE_CHANGED = { kind: "viewer", subject: null, senderOnly: true } as const;

/** Whom the sender asks. Each gets a personal link, by which they are known when they open it. */
export class Invites {
  constructor(
    private readonly db: Database,
    private readonly events: Events,
    /** who is named decides who may watch */
    private readonly named: (recordingId: string) => Promise<void>,
  ) {}

  /**
   * Asks the people in a text; who was asked already stays asked.
   * @param mayOutside whether people may be asked who do not belong to the workspace
   * @throws {Problem} 422 naming what is no address, 403 where only owners ask people outside; then nobody was added
   */
  async add(recordingId: string, text: string, mayOutside = true): Promise<number> {
    const invitees = requireInvitees(text);
    const added = await this.events.within(recordingId, async (transaction) => {
      const attributes = ["workspaceId"];
      const recording = await this.db.models.Recording.findByPk(recordingId, { attributes, transaction });
      if (recording) await requireNoNamesakes(this.db, recording.workspaceId, invitees, transaction);
      const there = await this.db.models.Invite.count({ where: { recordingId }, transaction });
      if (there + invitees.length > MOST)
        throw new Problem(422, "too-many", `At most ${MOST} people can be asked for one recording.`);
      const added = await this.db.rows<{ id: string; personId: string | null }>(
        ADD_INVITES,
        [
          recordingId,
          invitees.map(() => randomUUID()),
          invitees.map((i) => i.name),
          invitees.map((i) => i.email),
          invitees.map(() => nanoid(16)),
        ],
        transaction,
      );
      if (!mayOutside && added.some(({ personId }) => personId === null)) throw onlyOwners();
      await this.db.rows(CAME_BEFORE, [recordingId, added.map((a) => a.id)], transaction);
      return { result: added.length, events: added.length > 0 ? [PEOPLE_CHANGED] : [] };
    });
    await this.named(recordingId);
    return added;
  }

  /** Asks somebody no more. What they saw and said stays, as of somebody who came by themselves. */
  async remove(recordingId: string, id: string): Promise<void> {
    await this.events.within(recordingId, async (transaction) => {
      await this.db.models.Invite.destroy({ where: { id, recordingId }, transaction });
      return { result: undefined, events: [PEOPLE_CHANGED] };
    });
    await this.named(recordingId);
  }
}
