import type { Ask } from "#core/answers/kinds";
import { toSeconds, type Micros } from "#core/time/micros";
import type { KnownRecording } from "../access/facts";
import type { SignedIn } from "../accounts/sessions";
import type { ShownComment } from "../answers/comments";
import type { People, PersonRow } from "../answers/people";
import type { LibraryRow } from "../recordings/rows";
import type { Runtime } from "../runtime";
import type { SharedAs } from "../sharing/sharing";
import type { OneRecording } from "../viewing/figures";

// What programs are told, as `core/api/document` describes it: nothing of ours goes out that is not named here.

const orNull = (at: Micros | null) => (at === null ? null : toSeconds(at));

export const listed = (row: LibraryRow, publicUrl: string) => ({
  id: row.id,
  title: row.title,
  link: `${publicUrl}/w/${row.token}`,
  audience: row.audience,
  sender: row.sender,
  mine: row.mine,
  createdAt: row.createdAt,
  seconds: toSeconds(row.durationUs),
});

export async function toldRecording(runtime: Runtime, member: SignedIn, facts: KnownRecording) {
  const { library, playback, settings } = runtime;
  const [details, playable] = await Promise.all([library.details(facts.id), playback.playable(facts.id, facts.token)]);
  return {
    id: facts.id,
    title: details.title,
    link: `${settings.publicUrl}/w/${facts.token}`,
    audience: facts.audience,
    sender: details.sender,
    mine: facts.ownerId === member.id,
    createdAt: details.createdAt,
    seconds: toSeconds(playable?.durationUs ?? 0),
    description: details.description,
    tags: details.tags,
    chapters: details.chapters.map(({ at, title }) => ({ at: toSeconds(at), title })),
    captions: details.captions.map(({ from, to, text }) => ({ from: toSeconds(from), to: toSeconds(to), text })),
  };
}

export const toldComments = (comments: readonly ShownComment[]) => ({
  comments: comments.map(({ id, replyTo, name, guest, body, at, until, createdAt, settled }) => ({
    ...{ id, replyTo, name, guest, body },
    ...{ at: toSeconds(at), until: orNull(until), createdAt, settled },
  })),
});

/** Without the keys of personal links: these open the recording for whoever has them. */
export const toldPeople = ({ kind, question, choices, due, closed }: Ask, { rows, unnamed, more }: People) => ({
  ask: { kind, question, choices, due, closed },
  people: rows.map((row) => ({
    name: row.name,
    member: row.member,
    group: row.group,
    overdue: row.overdue,
    answer: toldAnswer(row.answer),
    answeredAt: row.answeredAt,
    firstOpenedAt: row.firstOpenedAt,
    share: Math.min(1, Math.max(0, row.share)),
  })),
  unnamed: unnamed.opened,
  more,
});

function toldAnswer(answer: PersonRow["answer"]) {
  return answer?.kind === "not-clear" ? { ...answer, at: toSeconds(answer.at) } : answer;
}

export const toldFigures = ({ figures }: OneRecording) => ({
  watched: figures.watched,
  finished: figures.finished,
  averageShare: figures.averageShare,
  curve: figures.curve.map(({ at, there, again }) => ({ at: toSeconds(at), there, again })),
});

export const toldSharing = (as: SharedAs) => ({
  audience: as.audience,
  opensAt: as.opensAt,
  endsAt: as.endsAt,
  comments: as.comments,
  downloads: as.downloads,
  asksNames: as.asksNames,
  hasPassword: as.hasPassword,
  named: as.named,
  folder: as.folderId,
});
