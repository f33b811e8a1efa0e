import type { Transaction } from "sequelize";
import type { Database } from "../database/connection";
import type { Event } from "../database/models/viewing";
import { NOTIFY, noticeParameters } from "./channel";
import { Lines } from "./lines";
import { ADD_EVENTS, LOCK_RECORDING } from "./sql";

export type EventKind = Event["kind"];

export interface NewEvent {
  kind: EventKind;
  /** the comment, reaction or answer that it is about */
  subject: string | null;
  /** for the sender's pages alone */
  senderOnly: boolean;
}

/**
 * The log of what has happened at each recording. A change and its event are one transaction, and transactions of one
 * recording
 * stand in line: so the numbers of its events come in the order in which they can be seen, and a page that has read up
 * to a number has missed nothing.
 */
export class Events {
  /** Those of this process stand in line here, without a connection of the pool; at the lock there is one of each. */
  #lines = new Lines();

  constructor(private readonly db: Database) {}

  within<T>(
    recordingId: string,
    change: (transaction: Transaction) => Promise<{ result: T; events: NewEvent[] }>,
  ): Promise<T> {
    return this.#lines.stand(recordingId, () => this.#within(recordingId, change));
  }

  async #within<T>(
    recordingId: string,
    change: (transaction: Transaction) => Promise<{ result: T; events: NewEvent[] }>,
  ): Promise<T> {
    return this.db.sequelize.transaction(async (transaction) => {
      await this.db.rows(LOCK_RECORDING, [recordingId], transaction);
      const { result, events } = await change(transaction);
      if (events.length > 0) {
        await this.db.rows(
          ADD_EVENTS,
          [recordingId, events.map((e) => e.kind), events.map((e) => e.subject), events.map((e) => e.senderOnly)],
          transaction,
        );
        await this.db.rows(NOTIFY, noticeParameters({ topic: "event", id: recordingId }), transaction);
        if (events.some((e) => e.kind === "revision"))
          await this.db.rows(NOTIFY, noticeParameters({ topic: "revision", id: recordingId }), transaction);
      }
      return result;
    });
  }

  /**
   * The number of the newest event. Read it before what a page shows: what is both shown and told again does no harm.
   */
  async newest(recordingId: string): Promise<number> {
    const row = await this.db.models.Event.findOne({
      where: { recordingId },
      attributes: ["id"],
      order: [["id", "desc"]],
    });
    return row?.id ?? 0;
  }
}
