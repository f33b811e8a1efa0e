import type { Database } from "../database/connection";

/** An open page whose row is older than this has no process any more. */
const STALE_SECONDS = 50;

/** Which pages are open now, in all processes. */
export class Presence {
  constructor(private readonly db: Database) {}

  async add(id: string, recordingId: string, viewerId: string): Promise<void> {
    await this.db.rows("insert into open_pages (id, recording_id, viewer_id) values ($1, $2, $3) returning id", [
      id,
      recordingId,
      viewerId,
    ]);
  }

  async remove(ids: string[]): Promise<void> {
    if (ids.length > 0) await this.db.rows("delete from open_pages where id = any($1::uuid[]) returning id", [ids]);
  }

  /** Says that these are still open, and forgets those of processes that died. */
  async renew(ids: string[]): Promise<void> {
    if (ids.length > 0) {
      await this.db.rows("update open_pages set renewed_at = now() where id = any($1::uuid[]) returning id", [ids]);
    }
    await this.db.rows(
      `delete from open_pages where renewed_at < now() - make_interval(secs => ${2 * STALE_SECONDS}) returning id`,
    );
  }

  /** How many others have the page of a recording open. */
  async watching(recordingId: string): Promise<number> {
    const [row] = await this.db.rows<{ count: number }>(
      `select count(distinct p.viewer_id)::int as count from open_pages p join viewers v on v.id = p.viewer_id
        where p.recording_id = $1 and v.number >= 0
          and p.renewed_at > now() - make_interval(secs => ${STALE_SECONDS})`,
      [recordingId],
    );
    return row!.count;
  }
}
