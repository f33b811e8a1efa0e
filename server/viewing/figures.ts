import { chaptersAsShown } from "#core/recipe/written";
import { createHash } from "node:crypto";
import type { Ask, ReactionKind } from "#core/answers/kinds";
import { playedAgain, recordingFigures, seenBy, type Chapter, type RecordingFigures } from "#core/viewing/figures";
import type { Folded } from "#core/viewing/fold";
import type { ShownLine } from "#core/recipe/shown-line";
import { union, type RangeSet } from "#core/time/ranges";
import { lastDays } from "#core/time/days";
import type { Micros } from "#core/time/micros";
import { viewingStatements } from "#core/viewing/xapi";
import { peopleOf, type Part, type People, type PersonRow } from "../answers/people";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { shownOnly, shownParts } from "../recordings/shown-lines";
import type { Folds } from "./folds";
import { FIGURES_OF_ALL, NOT_CLEAR, SPANS_OF, VIEWERS_AFTER } from "./sql";

/** A person with what they have seen along the length. */
export interface WatchedRow extends PersonRow {
  seen: RangeSet;
  again: RangeSet;
}

export interface OneRecording {
  length: Micros;
  chapters: Chapter[];
  figures: RecordingFigures;
  people: Omit<People, "rows"> & { rows: WatchedRow[] };
  /** what stands in the lanes of the timeline */
  lanes: { comments: Micros[]; reactions: { kind: ReactionKind; at: Micros }[] };
}

/** One of the sender's recordings in the Figures place. */
export interface FiguresRow {
  id: string;
  token: string;
  title: string;
  createdAt: string;
  durationUs: number;
  opened: number;
  watched: number;
  finished: number;
  /** 0 to 1; null when nobody has watched */
  share: number | null;
  comments: number;
  notClear: number;
  answered: number;
  asked: number;
  /** people who opened it first on each of the last days, today last */
  trend: number[];
}

export const TREND_DAYS = 21;
/** Of people who played very much, what they played again is told from this much of it. */
const SPANS_READ = 200_000;
/** Of the Figures place: the newest. */
const MOST_LISTED = 1_000;
/** How many viewers are read at once for an export. */
const VIEWERS_READ = 500;

/** The figures of recordings, for their senders. */
export class Figures {
  #figures = new WeakMap<Folded, { about: string; figures: RecordingFigures }>();

  constructor(
    private readonly db: Database,
    private readonly folds: Folds,
  ) {}

  async one(recordingId: string, ask: Ask, now: number, part?: Part): Promise<OneRecording> {
    const viewing = await this.folds.viewing(recordingId);
    const { folded, length, line } = viewing;
    const [recording, comments, reactions, unclear, people] = await Promise.all([
      this.db.models.Recording.findByPk(recordingId, { attributes: ["chapters"] }),
      this.db.models.Comment.findAll({
        where: { recordingId, replyTo: null, removedAt: null },
        attributes: ["atUs"],
        order: ["atUs"],
        raw: true,
      }),
      this.db.models.Reaction.findAll({
        where: { recordingId },
        attributes: ["kind", "atUs"],
        order: ["atUs"],
        raw: true,
      }),
      this.db.rows<{ at: Micros }>(NOT_CLEAR, [recordingId]),
      peopleOf(this.db, recordingId, viewing, ask, now, part),
    ]);
    const chapters = chaptersAsShown(line, recording!.chapters);
    const said = comments.map(({ atUs }) => ({ at: atUs }));
    const shown = shownOnly(
      line,
      reactions.map(({ kind, atUs }) => ({ kind, at: atUs })),
    );
    const notClear = [...shownOnly(line, unclear), ...shown.filter((r) => r.kind === "not-clear")].map((r) => r.at);
    const again = await this.#playedAgain(
      recordingId,
      line,
      people.rows.flatMap((p) => p.numbers),
    );
    const rows = people.rows.map((person): WatchedRow => ({
      ...person,
      seen: union(person.numbers.flatMap((n) => seenBy(folded, n))),
      again: union(person.numbers.flatMap((n) => again.get(n) ?? [])),
    }));
    return {
      length,
      chapters,
      figures: this.#counted(folded, length, { chapters, notClear }),
      people: { ...people, rows },
      lanes: { comments: shownOnly(line, said).map((c) => c.at), reactions: shown },
    };
  }

  /** The figures of what was folded, counted once while nothing comes in: looking again costs nothing. */
  #counted(folded: Folded, length: Micros, options: { chapters: Chapter[]; notClear: Micros[] }): RecordingFigures {
    const about = JSON.stringify([length, options]);
    const known = this.#figures.get(folded);
    if (known?.about === about) return known.figures;
    const figures = recordingFigures(folded, length, options);
    this.#figures.set(folded, { about, figures });
    return figures;
  }

  /** What each of these viewers played more than once. */
  async #playedAgain(recordingId: string, line: ShownLine, numbers: number[]): Promise<Map<number, RangeSet>> {
    const bind = [recordingId, numbers, SPANS_READ];
    const rows = await this.db.rows<{ number: number; from: Micros; to: Micros }>(SPANS_OF, bind);
    const spans = new Map<number, { from: number; to: number }[]>();
    for (const { number, from, to } of shownParts(line, rows)) {
      const some = spans.get(number);
      if (some) some.push({ from, to });
      else spans.set(number, [{ from, to }]);
    }
    return new Map([...spans].map(([number, some]) => [number, playedAgain(some)]));
  }

  /**
   * All recordings of a sender in their workspace, the newest first, and how many people opened each on which day.
   * @param zone where their days begin
   */
  async all(member: SignedIn, zone = "UTC"): Promise<FiguresRow[]> {
    const days = lastDays(Date.now(), zone, TREND_DAYS).map((at) => new Date(at));
    const bind = [member.id, member.workspaceId, MOST_LISTED, days];
    const rows = await this.db.rows<Omit<FiguresRow, "createdAt"> & { createdAt: Date }>(FIGURES_OF_ALL, bind);
    return rows.map((row) => ({ ...row, createdAt: row.createdAt.toISOString() }));
  }

  /** Every viewer as xAPI statements, as one JSON array, a piece at a time. The sender is left out. */
  async *statements(recordingId: string, url: string, title: string): AsyncGenerator<string> {
    const { folded, length } = await this.folds.viewing(recordingId);
    let separator = "[\n";
    for (let after = -1; ;) {
      const viewers = await this.db.rows<{
        id: string;
        number: number;
        name: string | null;
        firstOpenedAt: Date;
        lastOpenedAt: Date;
      }>(VIEWERS_AFTER, [recordingId, after, VIEWERS_READ]);
      if (viewers.length === 0) break;
      for (const v of viewers) {
        const learner = {
          ...v,
          account: v.id,
          firstOpenedAt: v.firstOpenedAt.toISOString(),
          lastOpenedAt: v.lastOpenedAt.toISOString(),
        };
        for (const s of viewingStatements(learner, { url, title, length }, folded, (word) => uuidOf(v.id, word))) {
          yield separator + JSON.stringify(s);
          separator = ",\n";
        }
      }
      after = viewers.at(-1)!.number;
    }
    yield separator === "[\n" ? "[]\n" : "\n]\n";
  }
}

/**
 * An id that comes out the same at every export, so that a store that has the statement takes it for the same. UUID
 * version 8 (RFC 9562, 5.8).
 */
function uuidOf(viewerId: string, word: string): string {
  const hex = createHash("sha256").update(`${viewerId} ${word}`).digest("hex");
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-8${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}
