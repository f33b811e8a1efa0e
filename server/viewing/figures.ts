import { createHash } from "node:crypto";
import type { Ask, ReactionKind } from "#core/answers/kinds";
import { playedAgain, recordingFigures, seenBy, type Chapter, type RecordingFigures } from "#core/viewing/figures";
import type { ShownLine } from "#core/recipe/shown-line";
import { union, type RangeSet } from "#core/time/ranges";
import type { Micros } from "#core/time/micros";
import { viewingStatements } from "#core/viewing/xapi";
import { peopleOf, type Part, type People, type PersonRow } from "../answers/people";
import type { SignedIn } from "../accounts/sessions";
import type { Database } from "../database/connection";
import { VIEWER_NAMES } from "../answers/viewers";
import { shownOnly, shownParts } from "../recordings/shown-lines";
import type { Folds } from "./folds";

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

/** The figures of recordings, for their senders. */
export class Figures {
  constructor(
    private readonly db: Database,
    private readonly folds: Folds,
  ) {}

  async one(recordingId: string, ask: Ask, now: number, part?: Part): Promise<OneRecording> {
    const viewing = await this.folds.viewing(recordingId);
    const { folded, length, line } = viewing;
    const [[recording], comments, reactions, unclear, people] = await Promise.all([
      this.db.rows<{ chapters: Chapter[] }>("select chapters from recordings where id = $1", [recordingId]),
      this.db.rows<{ at: number }>(
        "select at_us as at from comments where recording_id = $1 and reply_to is null and removed_at is null order by at_us",
        [recordingId],
      ),
      this.db.rows<{ kind: ReactionKind; at: number }>(
        "select kind, at_us as at from reactions where recording_id = $1 order by at_us",
        [recordingId],
      ),
      this.db.rows<{ at: number }>(
        `select (w.answer ->> 'at')::bigint as at from answers w join asks a on a.recording_id = w.recording_id
          where w.recording_id = $1 and w.ask_version = a.version and w.answer ->> 'kind' = 'not-clear'`,
        [recordingId],
      ),
      peopleOf(this.db, recordingId, viewing, ask, now, part),
    ]);
    const chapters = shownOnly(line, recording!.chapters);
    const shown = shownOnly(line, reactions);
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
      figures: recordingFigures(folded, length, { chapters, notClear }),
      people: { ...people, rows },
      lanes: { comments: shownOnly(line, comments).map((c) => c.at), reactions: shown },
    };
  }

  /** What each of these viewers played more than once. */
  async #playedAgain(recordingId: string, line: ShownLine, numbers: number[]): Promise<Map<number, RangeSet>> {
    const rows = await this.db.rows<{ number: number; from: number; to: number }>(
      `select viewer_number as number, from_us as from, to_us as to from spans where recording_id = $1 and viewer_number = any($2::int[]) limit ${SPANS_READ}`,
      [recordingId, numbers],
    );
    const spans = new Map<number, { from: number; to: number }[]>();
    for (const { number, from, to } of shownParts(line, rows)) {
      const some = spans.get(number);
      if (some) some.push({ from, to });
      else spans.set(number, [{ from, to }]);
    }
    return new Map([...spans].map(([number, some]) => [number, playedAgain(some)]));
  }

  /** All recordings of a sender in their workspace, the newest first, and how many people opened each on which day. */
  async all(member: SignedIn): Promise<FiguresRow[]> {
    const rows = await this.db.rows<Omit<FiguresRow, "createdAt"> & { createdAt: Date }>(
      `with mine as (
         select id, token, title, created_at, duration_us from recordings
          where owner_id = $1 and workspace_id = $2 and deleted_at is null order by created_at desc limit 1000)
       select r.id, r.token, r.title, r.created_at as "createdAt", r.duration_us as "durationUs",
              coalesce(v.opened, 0) as opened, coalesce(f.watched, 0) as watched, coalesce(f.finished, 0) as finished, case when f.watched > 0 then f.share end as share,
              coalesce(c.comments, 0) as comments, coalesce(x.unclear, 0) + coalesce(a.not_clear, 0) as "notClear",
              coalesce(a.answered + case when a.asked = 0 then a.others else 0 end, 0) as answered, coalesce(a.asked, 0) as asked, coalesce(v.trend, '[]') as trend
         from mine r
         left join folds f on f.recording_id = r.id
         left join lateral (
           select sum(n)::int as opened, json_agg(coalesce(n, 0) order by ago desc) filter (where ago < ${TREND_DAYS}) as trend
             from (select d.ago, count(w.id)::int as n from (select generate_series(0, ${TREND_DAYS}) as ago) d
                    left join viewers w on w.recording_id = r.id and w.number >= 0 and least(${TREND_DAYS}, current_date - w.first_opened_at::date) = d.ago group by d.ago) days) v on true
         left join lateral (select count(*)::int as comments from comments where recording_id = r.id and removed_at is null) c on true
         left join lateral (select count(*)::int as unclear from reactions where recording_id = r.id and kind = 'not-clear') x on true
         left join ask_standings a on a.recording_id = r.id
        order by r.created_at desc`,
      [member.id, member.workspaceId],
    );
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
      }>(
        `select v.id, v.number, case when v.named then coalesce(m.name, g.name) end as name, v.first_opened_at as "firstOpenedAt", v.last_opened_at as "lastOpenedAt"
           from viewers v ${VIEWER_NAMES}
          where v.recording_id = $1 and v.number > $2 order by v.number limit 500`,
        [recordingId, after],
      );
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
