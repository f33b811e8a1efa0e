import { NOTHING_ASKED, type Ask } from "#core/answers/kinds";
import { shownComments, type ShownComment } from "../answers/comments";
import type { ShownReaction } from "../answers/reactions";
import { ASK, COMMENTS_BY_ID, REACTIONS_BY_ID } from "../answers/sql";
import type { Database } from "../database/connection";
import { shownLineOf, shownOnly } from "../recordings/shown-lines";
import type { EventKind } from "./events";
import { EVENTS_AFTER } from "./sql";

/**
 * What a page is told. A comment or reaction comes as it is now; null when it was taken back. Being told the same twice
 * changes nothing. `again`: too much was missed, or another
 * revision is shown; the page has to be loaded anew.
 */
export type Told =
  | { kind: "comment"; id: string; comment: ShownComment | null }
  | { kind: "reaction"; id: string; reaction: ShownReaction | null }
  | { kind: "ask"; ask: Ask }
  | { kind: "people" }
  | { kind: "watching"; count: number }
  | { kind: "again" };

export interface EventRow {
  id: number;
  kind: EventKind;
  subject: string | null;
  senderOnly: boolean;
}

/** An event as pages are told it. */
export interface Words {
  id: number;
  senderOnly: boolean;
  text: string;
}

/** One message. Only what is in the log has a number: a page goes on after the last number it has heard. */
export const message = (told: Told, id?: number) =>
  `${id === undefined ? "" : `id: ${id}\n`}data: ${JSON.stringify(told)}\n\n`;

/** The events of a recording after a number, in order, at most `most`. */
export function eventsAfter(db: Database, recordingId: string, after: number, most: number): Promise<EventRow[]> {
  return db.rows<EventRow>(EVENTS_AFTER, [recordingId, after, most]);
}

/** The text of each event, with what it is about as it is now. Of several about the same thing the last says it all. */
export async function wordsOf(db: Database, recordingId: string, rows: EventRow[]): Promise<Words[]> {
  const last = [
    ...new Map(rows.map((row) => [`${row.kind === "answer" ? "viewer" : row.kind} ${row.subject}`, row])).values(),
  ];
  const some = <T extends object>(kind: EventKind, sql: string) => {
    const ids = last.flatMap((row) => (row.kind === kind && row.subject ? [row.subject] : []));
    return ids.length > 0 ? db.rows<T>(sql, [ids]) : [];
  };
  const [line, comments, reactions, [ask]] = await Promise.all([
    shownLineOf(db, recordingId),
    some<ShownComment>("comment", COMMENTS_BY_ID),
    some<ShownReaction>("reaction", REACTIONS_BY_ID),
    last.some((row) => row.kind === "ask") ? db.rows<Ask>(ASK, [recordingId]) : [],
  ]);
  const shown = { comments: shownComments(line, comments), reactions: shownOnly(line, reactions) };
  const told = ({ kind, subject }: EventRow): Told => {
    if (kind === "comment")
      return { kind, id: subject!, comment: shown.comments.find((c) => c.id === subject) ?? null };
    if (kind === "reaction")
      return { kind, id: subject!, reaction: shown.reactions.find((r) => r.id === subject) ?? null };
    // Other moments, another length, other places of everything that was said.
    if (kind === "revision") return { kind: "again" };
    return kind === "ask" ? { kind, ask: ask ?? NOTHING_ASKED } : { kind: "people" };
  };
  return last
    .sort((a, b) => a.id - b.id)
    .map((row) => ({
      id: row.id,
      senderOnly: row.senderOnly,
      text: message(told(row), row.id),
    }));
}
