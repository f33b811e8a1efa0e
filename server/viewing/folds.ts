import { LRUCache } from "lru-cache";
import type { Logger } from "pino";
import { attentionStrip, recordingFigures } from "#core/viewing/figures";
import { fold, NOTHING_FOLDED, type Folded, type SpanColumns } from "#core/viewing/fold";
import { packFolded, unpackFolded } from "#core/viewing/pack";
import { foldAsShown } from "#core/viewing/shown-fold";
import type { ShownLine } from "#core/recipe/shown-line";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import { Problem } from "../http/problem";
import { shownLineOf } from "../recordings/shown-lines";
import { FRESH_SPANS, KEEP_FOLD } from "./sql";

interface Kept {
  folded: Folded;
  /** all spans of transactions before this one are in it */
  through: string;
}

/** What was watched of a recording, in shown time, and how long it is. */
export interface Viewing {
  folded: Folded;
  length: Micros;
  line: ShownLine;
}

/** Parts of the strip that lists show. */
export const STRIP_PARTS = 60;
/** Spans come in every few seconds from everybody who watches; lists may be this much behind. */
const SOON_MS = 3_000;
const PER_SPAN = 12;

/**
 * Folded spans, kept in the database and for a while in memory, so that a million spans are read once and not at every
 * look.
 *
 * What was there at the last fold is told from what was not by the transactions that wrote it: everything before the
 * oldest transaction still running is
 * settled for good; the rest is read again each time.
 */
export class Folds {
  #kept = new LRUCache<string, Kept>({
    max: 500,
    maxSize: 200_000_000,
    sizeCalculation: (k) => 1000 + 8 * (k.folded.from.length + k.folded.plays.at.length),
  });
  #soon = new Map<string, NodeJS.Timeout>();

  constructor(
    private readonly db: Database,
    private readonly log: Logger,
  ) {}

  /** All that was reported of a recording up to now, on its source line, without the sender's own. */
  async of(recordingId: string): Promise<Folded> {
    const kept = this.#kept.get(recordingId) ?? (await this.#load(recordingId));
    const [row] = await this.db.rows<{
      viewers: number;
      horizon: string;
      settled: Buffer | null;
      fresh: Buffer | null;
    }>(FRESH_SPANS, [recordingId, kept.through]);
    const { viewers, horizon, settled, fresh } = row!;
    let { folded } = kept;
    if (settled || folded.viewers < viewers) folded = fold(folded, columnsOf(settled), viewers);
    this.#kept.set(recordingId, { folded, through: horizon });
    return fresh ? fold(folded, columnsOf(fresh), viewers) : folded;
  }

  /** The same as it is shown now, and how long that is: what every figure is counted from. */
  async viewing(recordingId: string): Promise<Viewing> {
    const [folded, line] = await Promise.all([this.of(recordingId), shownLineOf(this.db, recordingId)]);
    return { folded: foldAsShown(folded, line), length: line.length, line };
  }

  /** Folds and keeps soon, once for however many spans come until then. */
  soon(recordingId: string): void {
    if (this.#soon.has(recordingId)) return;
    const timer = setTimeout(() => {
      this.#soon.delete(recordingId);
      this.keep(recordingId).catch((err: unknown) => this.log.error({ err }, "folding spans"));
    }, SOON_MS);
    this.#soon.set(recordingId, timer.unref());
  }

  /** Keeps what was folded, and what lists show of it. Nothing of a recording that was erased meanwhile. */
  async keep(recordingId: string): Promise<void> {
    const viewing = await this.viewing(recordingId).catch((cause: unknown) => {
      if (cause instanceof Problem && cause.status === 404) return null;
      throw cause;
    });
    if (!viewing) return;
    const { folded: all, length } = viewing;
    const settled = this.#kept.get(recordingId)!;
    const { watched, finished, averageShare, curve } = recordingFigures(all, length, { points: STRIP_PARTS });
    await this.db.rows(KEEP_FOLD, [
      recordingId,
      Buffer.from(packFolded(settled.folded)),
      settled.through,
      watched,
      finished,
      averageShare,
      Buffer.from(attentionStrip(curve, STRIP_PARTS)),
    ]);
  }

  /** Keeps at once what is still waiting, before the process ends. */
  async close(): Promise<void> {
    const waiting = [...this.#soon.keys()];
    for (const timer of this.#soon.values()) clearTimeout(timer);
    this.#soon.clear();
    for (const id of waiting) await this.keep(id);
  }

  async #load(recordingId: string): Promise<Kept> {
    const row = await this.db.models.Fold.findByPk(recordingId, { attributes: ["folded", "through"] });
    return row ? { folded: unpackFolded(row.folded), through: row.through } : { folded: NOTHING_FOLDED, through: "0" };
  }
}

/** Rows of three big-endian numbers, as PostgreSQL sends them, in columns. */
function columnsOf(rows: Buffer | null): SpanColumns {
  const count = rows ? rows.length / PER_SPAN : 0;
  const columns = { viewer: new Uint32Array(count), from: new Uint32Array(count), to: new Uint32Array(count) };
  if (!rows) return columns;
  const view = new DataView(rows.buffer, rows.byteOffset, rows.byteLength);
  for (let i = 0, at = 0; i < count; i++, at += PER_SPAN) {
    columns.viewer[i] = view.getUint32(at);
    columns.from[i] = view.getUint32(at + 4);
    columns.to[i] = view.getUint32(at + 8);
  }
  return columns;
}
