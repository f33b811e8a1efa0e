import { groupOf, GROUPS, isOverdue, type Group } from "#core/answers/groups";
import { isCurrent, type Answer, type Ask } from "#core/answers/kinds";
import { viewerFigures, watchers, type ViewerFigures } from "#core/viewing/figures";
import type { Micros } from "#core/time/micros";
import type { Database } from "../database/connection";
import type { Invite } from "../database/models/answers";
import { shownAnswer } from "./asks";
import { COME, INVITED, KNOWN_PEOPLE, LOOSE_PEOPLE } from "./sql";
import type { Viewing } from "../viewing/folds";

/** One person, or one browser without a name, as the sender sees them. */
export interface PersonRow {
  id: string;
  /** given when the sender has invited them; the key makes their personal link */
  invite: (Pick<Invite, "id" | "email" | "key" | "bounced"> & { mailedAt: string | null }) | null;
  /** null for an unnamed guest */
  name: string | null;
  member: boolean;
  /** what their picture is called, where they have one */
  portrait: string | null;
  group: Group;
  /** they were asked, and the day is over; who came by themselves is never late */
  overdue: boolean;
  answer: Answer | null;
  answeredAt: string | null;
  firstOpenedAt: string | null;
  lastOpenedAt: string | null;
  /** of the length, 0 to 1 */
  share: number;
  covered: Micros;
  finished: boolean;
  /** their rows in the figures: one for each browser */
  numbers: number[];
}

export interface People {
  rows: PersonRow[];
  /** how many stand in each group, also of those who are not in `rows` */
  groups: Record<Group, number>;
  overdue: number;
  /** people who asked not to be named: counted, and nothing more */
  unnamed: { opened: number; watched: number };
  /** people beyond the ones in `rows` */
  more: number;
}

interface ViewerRow {
  id: string;
  number: number;
  inviteId: string | null;
  name: string | null;
  member: boolean;
  portrait: string | null;
  named: boolean;
  answer: Answer | null;
  version: number;
  answeredAt: Date | null;
  firstOpenedAt: Date;
  lastOpenedAt: Date;
}
type InviteRow = Pick<Invite, "id" | "name" | "email" | "key" | "mailedAt" | "bounced"> & { portrait: string | null };

/**
 * Which of those who came by themselves: the latest first. Whoever was asked or has answered stands before them, on the
 * first page.
 */
export interface Part {
  offset: number;
  limit: number;
}
const FIRST_PEOPLE: Part = { offset: 0, limit: 200 };
const MOST_KNOWN = 5_000;

/** Who was asked and who came, and how far each is. @param now ms since 1970 */
export async function peopleOf(
  db: Database,
  recordingId: string,
  { folded, length, line }: Viewing,
  ask: Ask,
  now: number,
  { offset, limit }: Part = FIRST_PEOPLE,
): Promise<People> {
  const [invites, viewers, loose, [come]] = await Promise.all([
    db.rows<InviteRow>(INVITED, [recordingId]),
    db.rows<ViewerRow>(KNOWN_PEOPLE, [recordingId, MOST_KNOWN]),
    db.rows<ViewerRow>(LOOSE_PEOPLE, [recordingId, limit, offset]),
    db.rows<{ total: number; known: number[]; unnamed: number[] }>(COME, [recordingId]),
  ]);
  const known = viewers.map((v) => ({ ...v, answer: shownAnswer(line, v.answer) }));
  const figures = (number: number) => viewerFigures(folded, number, length);
  const watchersOf = (some: number[]) => some.filter((n) => figures(n).watched).length;
  const byInvite = new Map<string, ViewerRow[]>();
  for (const v of known) if (v.inviteId) byInvite.set(v.inviteId, [...(byInvite.get(v.inviteId) ?? []), v]);
  const row = (invite: InviteRow | null, browsers: ViewerRow[]) => personOf(invite, browsers, figures, ask, now);
  const first = [
    ...invites.map((invite) => row(invite, byInvite.get(invite.id) ?? [])),
    ...known.filter((v) => !v.inviteId).map((v) => row(null, [v])),
  ];
  const groups = Object.fromEntries(GROUPS.map((g) => [g, first.filter((p) => p.group === g).length])) as Record<
    Group,
    number
  >;
  // Whoever came by themselves is everybody but these; they may be thousands, so they are not counted one by one.
  const { total, unnamed, ...others } = come!;
  const apart = [...new Set([...others.known, ...unnamed])];
  const looseCame = total - apart.length;
  const looseWatched = Math.min(looseCame, watchers(folded, length) - watchersOf(apart));
  groups.watched += looseWatched;
  groups.opened += looseCame - looseWatched;
  return {
    rows: [...(offset === 0 ? first : []), ...loose.map((v) => row(null, [v]))],
    groups,
    overdue: first.filter((p) => p.overdue).length,
    unnamed: { opened: unnamed.length, watched: watchersOf(unnamed) },
    more: looseCame - offset - loose.length,
  };
}

function personOf(
  invite: InviteRow | null,
  browsers: ViewerRow[],
  figures: (number: number) => ViewerFigures,
  ask: Ask,
  now: number,
): PersonRow {
  // Who asked not to be named and answered all the same is named with the answer, and with nothing else.
  const open = browsers.filter((b) => b.named);
  const seen = open.map((b) => figures(b.number));
  const answered = browsers
    .filter((b) => b.answer && isCurrent(ask, b))
    .sort((a, b) => b.answeredAt!.getTime() - a.answeredAt!.getTime())[0];
  const group = groupOf({
    opened: open.length > 0,
    watched: seen.some((f) => f.watched),
    answered: answered !== undefined,
  });
  const times = (which: "firstOpenedAt" | "lastOpenedAt") => open.map((b) => b[which].toISOString()).sort();
  const best = seen.reduce((a, b) => (b.share > a.share ? b : a), { share: 0, covered: 0, finished: false } as Pick<
    ViewerFigures,
    "share" | "covered" | "finished"
  >);
  return {
    id: invite?.id ?? browsers[0]!.id,
    invite: invite && {
      id: invite.id,
      email: invite.email,
      key: invite.key,
      mailedAt: invite.mailedAt?.toISOString() ?? null,
      bounced: invite.bounced,
    },
    name: invite?.name ?? browsers[0]!.name,
    member: browsers.some((b) => b.member),
    // Somebody else's link, opened by another, shows whose it is.
    portrait: (invite ? invite : open[0])?.portrait ?? null,
    group,
    overdue: invite !== null && isOverdue(group, ask, now),
    answer: answered?.answer ?? null,
    answeredAt: answered?.answeredAt!.toISOString() ?? null,
    firstOpenedAt: times("firstOpenedAt")[0] ?? null,
    lastOpenedAt: times("lastOpenedAt").at(-1) ?? null,
    share: best.share,
    covered: best.covered,
    finished: best.finished,
    numbers: open.map((b) => b.number),
  };
}
