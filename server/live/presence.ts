import type { Database } from "../database/connection";
import { FORGET_PAGES, RENEW_PAGES, WATCHING } from "./sql";

/** An open page whose row is older than this has no process any more. */
const STALE_SECONDS = 50;

/** Which pages are open now, in all processes. */
export class Presence {
  constructor(private readonly db: Database) {}

  async add(id: string, recordingId: string, viewerId: string): Promise<void> {
    await this.db.models.OpenPage.create({ id, recordingId, viewerId });
  }

  async remove(ids: string[]): Promise<void> {
    if (ids.length > 0) await this.db.models.OpenPage.destroy({ where: { id: ids } });
  }

  /** Says that these are still open, and forgets those of processes that died. */
  async renew(ids: string[]): Promise<void> {
    if (ids.length > 0) await this.db.rows(RENEW_PAGES, [ids]);
    await this.db.rows(FORGET_PAGES, [2 * STALE_SECONDS]);
  }

  /** How many others have the page of a recording open. */
  async watching(recordingId: string): Promise<number> {
    const [row] = await this.db.rows<{ count: number }>(WATCHING, [recordingId, STALE_SECONDS]);
    return row!.count;
  }
}
