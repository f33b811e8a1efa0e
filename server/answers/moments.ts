import { formatClock, type Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";

/** How long a recording is now: a take that still grows is as long as what is here of it. */
export async function lengthOf(db: Database, recordingId: string): Promise<Micros> {
  const [row] = await db.rows<{ length: number }>(
    `select case when t.state = 'complete' then r.duration_us else
              coalesce((select max(e.end_us) from tracks k join lateral (
                 select start_us + duration_us as end_us from segments where track_id = k.id order by number desc limit 1) e on true where k.take_id = t.id), 0)
            end::float8 as length
       from recordings r join takes t on t.recording_id = r.id where r.id = $1 order by t.position desc limit 1`,
    [recordingId],
  );
  return row?.length ?? 0;
}

/** @throws {Problem} 422 for a moment that the recording does not have */
export async function requireMoment(db: Database, recordingId: string, at: Micros): Promise<void> {
  const length = await lengthOf(db, recordingId);
  if (at > length)
    throw new Problem(
      422,
      "beyond-the-end",
      `The recording is ${formatClock(length)} long; this moment is beyond its end.`,
    );
}
