import { parseRecipe } from "#core/recipe/recipe";
import { ShownLine } from "#core/recipe/shown-line";
import type { Micros } from "#core/time/micros";
import type { TakeSource } from "#core/media/tracks";
import type { Audience } from "#core/access/access";
import type { Expected } from "../database/models";
import { shownOnly } from "./shown-lines";

/** A recorder notes itself every 10 s and sends a segment every 2 s. Silent for longer than this, it is gone. */
export const SILENT_SECONDS = 40;

/** Where a recording stands, as the library says it. */
export type RowState =
  | { kind: "recording"; paused: boolean }
  | { kind: "uploading"; stored: number; expected: number }
  | { kind: "ready" }
  /** the recorder stopped talking before all was here; what is here can be watched */
  | { kind: "interrupted"; stored: number; expected: number | null }
  /** the recorder is done and nothing at all has arrived */
  | { kind: "empty" };

export interface LibraryRow {
  id: string;
  token: string;
  title: string;
  titleVersion: number;
  source: TakeSource;
  audience: Audience;
  state: RowState;
  durationUs: number;
  createdAt: string;
  deletedAt: string | null;
  /** it does not go, used or not; false for what is not one's own */
  spared: boolean;
  /** it is deleted then, because nobody uses it; null where it does not go, and for what is not one's own */
  goesAt: string | null;
  sender: string;
  mine: boolean;
  hasPoster: boolean;
  /** what came back; null for what is not one's own: only the sender sees it */
  back: Back | null;
}

/** Where an ask stands, as `ask_standings` has it. */
export interface AskStanding {
  kind: string;
  closed: boolean;
  /** people who were asked by name, and how many of them have answered what is asked now */
  asked: number;
  answered: number;
  /** answers of people who came by themselves */
  others: number;
  notClear: number;
  /** somebody who was asked is late */
  overdue: boolean;
}

/** What has come back for a recording, in a few numbers. */
export interface Back {
  /** null when nothing is asked */
  ask: AskStanding | null;
  views: number;
  /** the share of viewers who were there, 0 to 1 over equal parts of the length; empty when nobody watched */
  strip: number[];
  /** where comments stand, each as a share of the length */
  comments: number[];
}

export interface RawRow {
  id: string;
  token: string;
  title: string;
  titleVersion: number;
  source: TakeSource;
  audience: Audience;
  state: "recording" | "uploading" | "complete";
  paused: boolean;
  expected: Expected | null;
  stored: number;
  silent: number;
  endUs: Micros | null;
  durationUs: Micros;
  createdAt: Date;
  deletedAt: Date | null;
  spared: boolean;
  goesAt: Date | null;
  sender: string;
  ownerId: string;
  hasPoster: boolean;
  askKind: string | null;
  askClosed: boolean | null;
  overdue: boolean | null;
  asked: number;
  answered: number;
  others: number;
  notClear: number;
  views: number | null;
  strip: Buffer | null;
  /** moments of the source line */
  comments: Micros[];
  /** null where shown and source moments are the same */
  recipe: unknown;
}

/** @param personId who looks at it; null for a guest */
export function toRow(raw: RawRow, personId: string | null): LibraryRow {
  const { id, token, title, titleVersion, source, audience, sender, hasPoster } = raw;
  const mine = raw.ownerId === personId;
  return {
    id,
    token,
    title,
    titleVersion,
    source,
    audience,
    sender,
    hasPoster,
    state: rowState(raw),
    durationUs: raw.state === "complete" ? raw.durationUs : (raw.endUs ?? 0),
    createdAt: raw.createdAt.toISOString(),
    deletedAt: raw.deletedAt?.toISOString() ?? null,
    mine,
    spared: mine && raw.spared,
    goesAt: (mine && raw.goesAt?.toISOString()) || null,
    back: mine ? backOf(raw) : null,
  };
}

function backOf({
  askKind,
  askClosed,
  overdue,
  asked,
  answered,
  others,
  notClear,
  views,
  strip,
  comments,
  recipe,
  durationUs,
}: RawRow): Back {
  const line = recipe === null ? null : new ShownLine(parseRecipe(recipe), Infinity);
  const shown = line
    ? shownOnly(
        line,
        comments.map((at) => ({ at })),
      ).map(({ at }) => at)
    : comments;
  const share = (at: Micros) => Math.round((at / Math.max(1, durationUs)) * 10_000) / 10_000;
  return {
    ask:
      askKind === null
        ? null
        : { kind: askKind, closed: askClosed!, asked, answered, others, notClear, overdue: overdue! },
    views: views ?? 0,
    strip: views ? [...strip!].map((byte) => Math.round((byte / 255) * 100) / 100) : [],
    comments: shown.map(share),
  };
}

/** @returns where a take stands, from what is known of it */
export function rowState(
  raw: Pick<RawRow, "state" | "paused" | "expected" | "stored" | "silent" | "durationUs">,
): RowState {
  if (raw.state === "complete") return raw.durationUs > 0 ? { kind: "ready" } : { kind: "empty" };
  const expected = raw.expected ? Object.values(raw.expected).reduce((sum, n) => sum + n, 0) : null;
  if (raw.silent > SILENT_SECONDS) return { kind: "interrupted", stored: raw.stored, expected };
  return expected === null
    ? { kind: "recording", paused: raw.paused }
    : { kind: "uploading", stored: raw.stored, expected };
}
