import { KEPT_DAYS } from "#core/access/access";
import type { Database } from "../database/connection";
import type { Erase } from "../recordings/erase";

/** Removes for good what was deleted longer ago than it is kept, and sessions that have ended. */
export async function clearDeleted(db: Database, erase: Erase): Promise<void> {
  const old = await db.rows<{ id: string }>(
    `select id from recordings where deleted_at < now() - make_interval(days => $1)`,
    [KEPT_DAYS],
  );
  for (const { id } of old) await erase(id);
  await db.rows("delete from sessions where expires_at < now() returning id");
}
