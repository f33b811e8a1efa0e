import type { Database } from "../database/connection";
import type { Storage } from "../storage/storage";
import { removeMedia, type Erased, type RemoveLater } from "./erase";
import { DISCARDED_OF, DISCARDED_TAKES, EMPTY_TAKE } from "./sql";

/** Takes of a recording that were thrown away and of which something is still here. */
export interface DiscardedTakes {
  count: number;
  /** when the first of them was thrown away, ISO 8601 */
  since: string;
}

/** What was recorded of takes that were thrown away: it goes after a while, or when their sender says so. */
export class Discarded {
  constructor(
    private readonly db: Database,
    private readonly storage: Storage,
    private readonly later: RemoveLater,
  ) {}

  /** Null where there are none. */
  async of(recordingId: string): Promise<DiscardedTakes | null> {
    const [row] = await this.db.rows<{ count: number; since: Date | null }>(DISCARDED_OF, [recordingId]);
    return row?.since ? { count: row.count, since: row.since.toISOString() } : null;
  }

  /** Of those that were thrown away before a moment it goes. @param recordingId of this recording; null for all */
  async clear(before: Date, recordingId: string | null = null): Promise<void> {
    for (const take of await this.db.rows<Erased["takes"][number]>(DISCARDED_TAKES, [before, recordingId])) {
      const erased = { recordingIds: [], takes: [take] };
      await this.db.sequelize.transaction(async (transaction) => {
        await this.db.rows(EMPTY_TAKE, [take.id], transaction);
        await this.later(erased, transaction);
      });
      await removeMedia({ db: this.db, storage: this.storage }, erased);
    }
  }
}
