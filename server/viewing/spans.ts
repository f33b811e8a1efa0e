import type { Span } from "#core/viewing/watcher";
import { SECOND } from "#core/time/micros";
import type { Viewer } from "../answers/viewers";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { shownLineOf } from "../recordings/shown-lines";
import { PUT_SPANS } from "./sql";

/** A player may stand a little past the end that the server knows of. */
const SLACK = 2 * SECOND;

/** One batch counts its rows in two bytes. */
const MOST_ROWS = 32_000;

/** What a player says that it played, in moments as `revision` shows them; null for the published one. */
export interface Report {
  batch: string;
  revision?: number | null;
  spans: Span[];
}

/** Takes in what players report. The same batch may come again: after a lost answer, or by beacon as well. */
export class Spans {
  constructor(
    private readonly db: Database,
    /** called when there is something new to count */
    private readonly arrived: (recordingId: string) => void,
  ) {}

  /** @throws {Problem} 422 for spans that the recording does not have */
  async take(recordingId: string, viewer: Viewer, { batch, revision = null, spans }: Report): Promise<void> {
    const line = await shownLineOf(this.db, recordingId, revision);
    if (spans.some((s) => s.to > line.length + SLACK))
      throw new Problem(422, "beyond-the-end", "The recording is not that long.");
    const fit = spans.flatMap((s) => line.toSourceRanges(s).map((part) => ({ ...part, rate: s.rate })));
    if (fit.length === 0) return;
    if (fit.length > MOST_ROWS) throw new Problem(422, "too-many", "That is more than one report can tell.");
    await this.db.rows(PUT_SPANS, [
      recordingId,
      viewer.number,
      batch,
      fit.map((s) => s.from),
      fit.map((s) => s.to),
      fit.map((s) => s.rate),
    ]);
    this.arrived(recordingId);
  }
}
