import { KEPT_DAYS } from "#core/access/access";
import type { Database } from "../database/connection";
import { eraseRecording } from "../recordings/library";
import type { Storage } from "../storage/storage";

/** Removes for good what was deleted longer ago than it is kept, and sessions that have ended. */
export async function clearDeleted(db: Database, storage: Storage): Promise<void> {
  const old = await db.rows<{ id: string }>(
    `select id from recordings where deleted_at < now() - make_interval(days => $1)`,
    [KEPT_DAYS],
  );
  for (const { id } of old) await eraseRecording(db, storage, id);
  await db.rows("delete from sessions where expires_at < now() returning id");
}
