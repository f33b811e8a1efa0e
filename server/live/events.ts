import type { Transaction } from "sequelize";
import type { Database } from "../database/connection";
import type { Event } from "../database/models/viewing";
import { NOTIFY, noticeParameters } from "./channel";
import { Grouped } from "../grouped";
import { crowded, Lines, MOST_WAITING } from "./lines";
import { ADD_EVENTS, LOCK_RECORDING } from "./sql";

export type EventKind = Event["kind"];

export interface NewEvent {
  kind: EventKind;
  /** the comment, reaction or answer that it is about */
  subject: string | null;
  /** for the sender's pages alone */
  senderOnly: boolean;
}

/** What is done within a transaction, and what has happened by it. */
export type Change<T> = (transaction: Transaction) => Promise<{ result: T; events: NewEvent[] }>;

/** So many small changes share a transaction: a class that nods at once. */
const MOST_SHARED = 40;

/**
 * The log of what has happened at each recording. A change and its event are one transaction, and transactions of one
 * recording stand in line: so the numbers of its events come in the order in which they can be seen, and a page that
 * has read up to a number has missed nothing.
 */
export class Events {
  /** Those of this process stand in line here, without a connection of the pool; at the lock there is one of each. */
  #lines = new Lines();
  #shared = new Map<string, Grouped<Change<unknown>, unknown>>();

  constructor(private readonly db: Database) {}

  async within<T>(recordingId: string, change: Change<T>): Promise<T> {
    const [result] = await this.#lines.stand(recordingId, () => this.#carryOut(recordingId, [change]));
    return result as T;
  }

  /**
   * The same for something small that many may do at once: what waits for the same recording shares a transaction. What
   * fails is tried again alone, and the others with it: a change does nothing but ask its transaction.
   * @throws {Problem} 503 when very many wait already
   */
  async share<T>(recordingId: string, change: Change<T>): Promise<T> {
    let group = this.#shared.get(recordingId);
    if (!group) {
      group = new Grouped<Change<unknown>, unknown>(
        (changes) => this.#lines.stand(recordingId, () => this.#carryOut(recordingId, changes)),
        MOST_SHARED,
      );
      this.#shared.set(recordingId, group);
    }
    if (group.waiting >= MOST_WAITING) throw crowded();
    try {
      return (await group.add(change)) as T;
    } finally {
      if (group.isIdle) this.#shared.delete(recordingId);
    }
  }

  /** @returns the results, in the order of the changes */
  #carryOut(recordingId: string, changes: Change<unknown>[]): Promise<unknown[]> {
    return this.db.sequelize.transaction(async (transaction) => {
      await this.db.rows(LOCK_RECORDING, [recordingId], transaction);
      const done: Awaited<ReturnType<Change<unknown>>>[] = [];
      for (const change of changes) done.push(await change(transaction));
      const events = done.flatMap((one) => one.events);
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
      return done.map(({ result }) => result);
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
