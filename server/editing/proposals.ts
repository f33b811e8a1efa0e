import { LRUCache } from "lru-cache";
import { AFTER_MISTAKE, BEFORE_MISTAKE, mistakeAt, type Said } from "#core/recipe/proposals";
import { startOfTake } from "#core/recipe/source-line";
import type { Micros } from "#core/time/micros";
import { intersect, type Range } from "#core/time/ranges";
import type { Database } from "../database/connection";
import { shownLineOf } from "../recordings/shown-lines";
import type { Storage } from "../storage/storage";
import { REASONS } from "./sql";
import { pausesAround } from "./speech";

/** A stretch that could be left out. */
export interface Proposal extends Range {
  why: Said;
  /** where it is shown */
  at: Micros;
  until: Micros;
}

interface ReasonRow {
  takeId: string;
  position: number;
  durationUs: Micros;
  at: Micros;
  what: Said;
  since: Micros | null;
}

/** How many mistakes are looked at: sound is decoded for each. */
const MOST_LOOKED_AT = 40;

/** What could be left out of recordings, by what was said while they were made. */
export class Proposals {
  /** of mistakes, by take and moment: a whole take does not change */
  #known = new LRUCache<string, Range>({ max: 5_000 });
  /** One after the other: each takes a processor. */
  #last: Promise<unknown> = Promise.resolve();

  constructor(
    private readonly db: Database,
    private readonly storage: Storage,
  ) {}

  /** What is still shown of what went wrong, in the order shown. */
  async of(recordingId: string, signal: AbortSignal): Promise<Proposal[]> {
    const line = await shownLineOf(this.db, recordingId);
    const rows = await this.db.rows<ReasonRow>(REASONS, [recordingId]);
    const shown = rows.filter((row) => line.toShown(startOfTake(row.position) + (row.since ?? row.at)).kept);
    const proposals: Proposal[] = [];
    for (const row of shown.slice(0, MOST_LOOKED_AT)) {
      const { from, to } = row.what === "mistake" ? await this.#mistake(row, signal) : { from: row.since!, to: row.at };
      const start = startOfTake(row.position);
      const stretch = { from: from + start, to: to + start };
      const parts = line.toShownRanges(stretch);
      if (parts.length === 0 || overlaps(proposals, stretch)) continue;
      proposals.push({ why: row.what, ...stretch, at: parts[0]!.from, until: parts.at(-1)!.to });
    }
    return proposals.sort((a, b) => a.at - b.at);
  }

  async #mistake({ takeId, at, durationUs }: ReasonRow, signal: AbortSignal): Promise<Range> {
    const key = `${takeId} ${at}`;
    const known = this.#known.get(key);
    if (known) return known;
    const around = { from: Math.max(0, at - BEFORE_MISTAKE), to: at + AFTER_MISTAKE };
    const before = this.#last;
    const looking = before
      .catch(() => undefined)
      .then(() => pausesAround(this.db, this.storage, takeId, around, signal));
    this.#last = looking;
    const found = mistakeAt(at, await looking, durationUs);
    this.#known.set(key, found);
    return found;
  }
}

/** Of two that mean the same, one is proposed. */
const overlaps = (proposals: readonly Range[], stretch: Range) =>
  proposals.some((other) => intersect([other], [stretch]).length > 0);
