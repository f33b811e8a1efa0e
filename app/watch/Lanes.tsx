import { useMemo } from "react";
import type { Micros } from "#core/time/micros";
import { currentThread } from "../answers/CommentsPane";
import type { DraftAnchor } from "../answers/Composer";
import type { AnswersState } from "../answers/store";
import { useDrawn } from "../components/useDrawn";
import type { Player } from "../player/player";
import { usePlayerValue } from "../player/usePlayer";
import { commentMarks, crowdMarks, reactionMarks } from "../timeline/lanes";
import { Timeline } from "../timeline/Timeline";

interface Props {
  player: Player | null;
  state: AnswersState;
  chapters: { at: Micros; title: string }[];
  length: Micros;
  anchor: DraftAnchor | null;
  onAnchor: (anchor: DraftAnchor | null) => void;
  onSeek: (at: Micros) => void;
}

/**
 * The lanes of the watch page: chapters; comments and reactions, drawn by the browser; and the moment that is being
 * chosen.
 */
export function Lanes({ player, state, chapters, length, anchor, onAnchor, onSeek }: Props) {
  const { comments, reactions, along } = state;
  const known = usePlayerValue(player, (s) => s.duration) || length;
  const roots = useMemo(() => comments.filter((c) => c.replyTo === null), [comments]);
  const current = usePlayerValue(player, (s) => (s.started ? currentThread(roots, s.time) : null));
  const drawn = useDrawn();
  const marks = useMemo(() => {
    if (!drawn) return { comments: [], reactions: [] };
    return {
      comments: along ? crowdMarks(along.threads, known) : commentMarks(roots, current),
      reactions: reactionMarks([...reactions, ...(along?.reactions ?? [])], known),
    };
  }, [drawn, along, roots, current, reactions, known]);
  return (
    <Timeline
      length={known}
      lanes={[
        ...(chapters.length > 0 ? [{ name: "Chapters", chapters }] : []),
        { name: "Comments", marks: marks.comments },
        { name: "Reactions", marks: marks.reactions },
      ]}
      draft={anchor && { ...anchor, onStretch: (until) => onAnchor({ ...anchor, until }) }}
      onSeek={onSeek}
    />
  );
}
