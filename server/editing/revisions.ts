import type { Shown } from "#core/recipe/edits";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { shownOf } from "../recordings/publish";
import { REVISION, REVISIONS } from "./sql";

/** What was published once. */
export interface KnownRevision {
  number: number;
  publishedAt: string;
  /** how long it is */
  length: Micros;
}

/** How many of a recording are told of: the newest. */
const MOST = 100;

/** What was published of a recording, to be opened again. Who may have it is checked by the callers. */
export class Revisions {
  constructor(private readonly db: Database) {}

  /** The newest first. */
  async of(recordingId: string): Promise<KnownRevision[]> {
    const rows = await this.db.rows<Omit<KnownRevision, "publishedAt"> & { publishedAt: Date }>(REVISIONS, [
      recordingId,
      MOST,
    ]);
    return rows.map((row) => ({ ...row, publishedAt: row.publishedAt.toISOString() }));
  }

  /** What one of them shows, closed. @throws {Problem} 404 */
  async one(recordingId: string, number: number): Promise<Shown> {
    const [row] = await this.db.rows<Parameters<typeof shownOf>[0]>(REVISION, [recordingId, number]);
    if (!row) throw new Problem(404, "no-such-revision", "There is nothing that was published so.");
    return shownOf(row);
  }
}
