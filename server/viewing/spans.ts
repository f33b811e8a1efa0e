import type { Span } from "#core/viewing/watcher";
import { SECOND } from "#core/time/micros";
import { lengthOf } from "../answers/moments";
import type { Viewer } from "../answers/viewers";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";

/** A player may stand a little past the end that the server knows of. */
const SLACK = 2 * SECOND;

/** Takes in what players report. The same batch may come again: after a lost answer, or by beacon as well. */
export class Spans {
  constructor(
    private readonly db: Database,
    /** called when there is something new to count */
    private readonly arrived: (recordingId: string) => void,
  ) {}

  /** @throws {Problem} 422 for spans that the recording does not have */
  async take(recordingId: string, viewer: Viewer, { batch, spans }: { batch: string; spans: Span[] }): Promise<void> {
    const length = await lengthOf(this.db, recordingId);
    if (spans.some((s) => s.to > length + SLACK))
      throw new Problem(422, "beyond-the-end", "The recording is not that long.");
    const fit = spans.map((s) => ({ ...s, to: Math.min(s.to, length) })).filter((s) => s.to > s.from);
    if (fit.length === 0) return;
    await this.db.rows(
      `insert into spans (recording_id, viewer_number, batch, n, from_us, to_us, rate)
       select $1, $2, $3, s.n - 1, s.from_us, s.to_us, s.rate from unnest($4::bigint[], $5::bigint[], $6::real[]) with ordinality as s(from_us, to_us, rate, n)
       on conflict do nothing returning n`,
      [recordingId, viewer.number, batch, fit.map((s) => s.from), fit.map((s) => s.to), fit.map((s) => s.rate)],
    );
    this.arrived(recordingId);
  }
}
