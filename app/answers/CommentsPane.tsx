import Box from "@mui/material/Box";
import FormControlLabel from "@mui/material/FormControlLabel";
import Button from "@mui/material/Button";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useRef, useState, type Ref } from "react";
import type { Micros } from "#core/time/micros";
import type { ShownComment } from "#server/answers/comments";
import { useDrawn } from "../components/useDrawn";
import type { Player } from "../player/player";
import { usePlayerValue } from "../player/usePlayer";
import { Composer, type DraftAnchor } from "./Composer";
import type { AnswersState, AnswersStore } from "./store";
import { Thread } from "./Thread";
import { useMoreComments } from "./useMoreComments";

interface Props {
  store: AnswersStore | null;
  state: AnswersState;
  player: Player | null;
  token: string;
  link: string;
  anchor: DraftAnchor | null;
  onAnchor: (anchor: DraftAnchor | null) => void;
  field: Ref<HTMLTextAreaElement>;
  onSeek: (at: Micros) => void;
  /** is there a timeline, on which a moment can be made a stretch? */
  stretches?: boolean;
}

/** How long a comment on a moment stays the current one. */
const STAYS: Micros = 6_000_000;

/** The thread that belongs to a moment: the latest that has begun and is not over. */
export function currentThread(
  roots: readonly Pick<ShownComment, "id" | "at" | "until">[],
  time: Micros,
): string | null {
  return roots.findLast((c) => c.at <= time && time < Math.max(c.until ?? 0, c.at + STAYS))?.id ?? null;
}

/** The comments in order of time, drawn by the browser, and the place to write one. */
export function CommentsPane(props: Props) {
  const { store, state, player, token, link, anchor, onAnchor, field, onSeek, stretches = true } = props;
  const { comments, me } = state;
  const [follow, setFollow] = useState(true);
  const drawn = useDrawn();
  const { isPart, older, busy, problem } = useMoreComments(store, state, player);
  const list = useRef<HTMLUListElement>(null);
  const roots = useMemo(() => comments.filter((c) => c.replyTo === null), [comments]);
  const replies = useMemo(() => {
    const of = new Map<string, ShownComment[]>();
    for (const c of comments) if (c.replyTo) of.set(c.replyTo, [...(of.get(c.replyTo) ?? []), c]);
    for (const some of of.values()) some.sort((a, b) => (a.createdAt < b.createdAt ? -1 : 1));
    return of;
  }, [comments]);
  const current = usePlayerValue(player, (s) => (follow && s.started ? currentThread(roots, s.time) : null));
  useEffect(() => {
    const item = current && list.current?.querySelector(`#c-${CSS.escape(current)}`);
    // Within the pane only: the page itself does not move under the reader.
    if (item && list.current)
      list.current.scrollTo({
        top: (item as HTMLElement).offsetTop - list.current.offsetTop - 8,
        behavior: matchMedia("(prefers-reduced-motion: reduce)").matches ? "auto" : "smooth",
      });
  }, [current]);

  return (
    <Box
      component="section"
      aria-label="Comments"
      sx={{ display: "flex", flexDirection: "column", minHeight: 0, gap: 1 }}
    >
      {me?.mayComment === false ? (
        <Typography color="text.secondary">No comments are taken here.</Typography>
      ) : (
        <Composer {...{ store, me, player, token, anchor, onAnchor, field, stretches }} />
      )}
      {roots.length > 0 ? (
        <>
          <Box sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 1 }}>
            <FormControlLabel
              control={<Switch size="small" checked={follow} onChange={(e) => setFollow(e.target.checked)} />}
              label="Follow playback"
              slotProps={{ typography: { variant: "body2" } }}
              sx={{ ml: -0.5 }}
            />
            {isPart && (
              <Typography variant="body2" color="text.secondary" sx={{ ml: "auto" }}>
                {roots.length} of {state.threads} shown
                <Button size="small" disabled={busy} onClick={() => void older()} sx={{ ml: 0.5, minHeight: 26 }}>
                  {busy ? "Loading…" : "Show older"}
                </Button>
              </Typography>
            )}
          </Box>
          {problem && (
            <Typography role="alert" variant="body2" color="error">
              {problem}
            </Typography>
          )}
          <Box
            component="ul"
            ref={list}
            tabIndex={0}
            aria-label="Comments in order of time"
            sx={{ m: 0, p: 0, overflowY: { md: "auto" }, minHeight: 0, flex: 1 }}
          >
            {(drawn ? roots : NONE).map((root) => (
              <Thread
                key={root.id}
                root={root}
                replies={replies.get(root.id) ?? NONE}
                current={root.id === current}
                store={store}
                me={me}
                link={link}
                onSeek={onSeek}
              />
            ))}
          </Box>
        </>
      ) : (
        <Typography color="text.secondary" sx={{ py: 2 }}>
          Nobody has commented yet. Start to type where something should be said: it pauses, and the moment is kept.
        </Typography>
      )}
    </Box>
  );
}

const NONE: ShownComment[] = [];
