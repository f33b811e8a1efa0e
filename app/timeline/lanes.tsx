import { REACTION_NAMES, REACTIONS, type ReactionKind } from "#core/answers/kinds";
import type { Micros } from "#core/time/micros";
import type { ShownComment } from "#server/answers/comments";
import type { ShownReaction } from "#server/answers/reactions";
import { ReactionSign, reactionColor } from "../components/ReactionSign";
import type { Marked } from "./Timeline";

/** Threads as marks: a pane that is open while the thread is, and closed when it is settled. */
export function commentMarks(comments: readonly ShownComment[], current: string | null): Marked[] {
  return comments
    .filter((c) => c.replyTo === null && c.body !== null)
    .map((c) => ({
      key: c.id,
      at: c.at,
      until: c.until,
      color: c.settled ? "text.secondary" : "text.primary",
      current: c.id === current,
      label: `${c.name}: ${c.body!.length > 60 ? `${c.body!.slice(0, 60)}…` : c.body}`,
      sign: <ThreadSign settled={c.settled} />,
    }));
}

function ThreadSign({ settled }: { settled: boolean }) {
  return (
    <svg width="14" height="16" viewBox="0 0 14 16" aria-hidden>
      <path
        d="M1 1h12v9H7l-3 4v-4H1z"
        fill={settled ? "none" : "currentColor"}
        stroke="currentColor"
        strokeWidth="1.4"
      />
    </svg>
  );
}

/** Threads where they are very many: those that begin close together are one mark with their number. */
export function crowdMarks(threads: readonly { at: Micros; count: number }[], length: Micros): Marked[] {
  const out: { at: Micros; count: number }[] = [];
  for (const { at, count } of threads) {
    const last = out.at(-1);
    if (last && at - last.at <= length / 12) last.count += count;
    else out.push({ at, count });
  }
  return out.map(({ at, count }) => ({
    key: `threads ${at}`,
    at,
    until: null,
    color: "text.primary",
    label: count === 1 ? "1 comment" : `${count} comments`,
    sign: (
      <>
        <ThreadSign settled={false} />
        <span style={{ fontSize: 11, fontWeight: 600, marginLeft: 1 }}>{count}</span>
      </>
    ),
  }));
}

/** Reactions of one kind that stand close together are one mark with their number. */
export function reactionMarks(
  reactions: readonly (Pick<ShownReaction, "kind" | "at"> & { count?: number })[],
  length: Micros,
): Marked[] {
  const near = length / 40;
  const out: Marked[] = [];
  for (const kind of REACTIONS) {
    const places = reactions.filter((r) => r.kind === kind).sort((a, b) => a.at - b.at);
    for (let i = 0; i < places.length;) {
      let j = i + 1;
      while (j < places.length && places[j]!.at - places[i]!.at <= near) j++;
      const count = places.slice(i, j).reduce((sum, place) => sum + (place.count ?? 1), 0);
      out.push(gathered(kind, places[i]!.at, count));
      i = j;
    }
  }
  return out.sort((a, b) => a.at - b.at);
}

function gathered(kind: ReactionKind, at: Micros, count: number): Marked {
  return {
    key: `${kind} ${at}`,
    at,
    until: null,
    color: reactionColor(kind),
    label: count > 1 ? `${count} times ${REACTION_NAMES[kind]}` : REACTION_NAMES[kind],
    sign: (
      <>
        <ReactionSign kind={kind} size={16} />
        {count > 1 && <span style={{ fontSize: 11, fontWeight: 600, marginLeft: 1 }}>{count}</span>}
      </>
    ),
  };
}
