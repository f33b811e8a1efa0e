import { randomUUID } from "node:crypto";
import { nanoid } from "nanoid";
import { readInvitees } from "#core/answers/invitees";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import type { Events } from "../live/events";
import { ADD_INVITES, CAME_BEFORE } from "./sql";

const MOST = 500;
const EVENT = { kind: "viewer", subject: null, senderOnly: true } as const;

/** Whom the sender asks. Each gets a personal link, by which they are known when they open it. */
export class Invites {
  constructor(
    private readonly db: Database,
    private readonly events: Events,
  ) {}

  /**
   * Asks the people in a text; who was asked already stays asked.
   * @throws {Problem} 422 naming what is no address; then nobody was added
   */
  async add(recordingId: string, text: string): Promise<number> {
    const { invitees, wrong } = readInvitees(text);
    if (wrong.length > 0)
      throw new Problem(
        422,
        "no-address",
        `These are no addresses: ${wrong.slice(0, 3).join(", ")}. Nobody was added.`,
      );
    if (invitees.length === 0) throw new Problem(422, "nobody", "Give a name or an address.");
    return this.events.within(recordingId, async (transaction) => {
      const there = await this.db.models.Invite.count({ where: { recordingId }, transaction });
      if (there + invitees.length > MOST)
        throw new Problem(422, "too-many", `At most ${MOST} people can be asked for one recording.`);
      const added = await this.db.rows<{ id: string }>(
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
      await this.db.rows(CAME_BEFORE, [recordingId, added.map((a) => a.id)], transaction);
      return { result: added.length, events: added.length > 0 ? [EVENT] : [] };
    });
  }

  /** Asks somebody no more. What they saw and said stays, as of somebody who came by themselves. */
  async remove(recordingId: string, id: string): Promise<void> {
    await this.events.within(recordingId, async (transaction) => {
      await this.db.models.Invite.destroy({ where: { id, recordingId }, transaction });
      return { result: undefined, events: [EVENT] };
    });
  }
}
