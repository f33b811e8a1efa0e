import Close from "@mui/icons-material/Close";
import Box from "@mui/material/Box";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import { useEffect, useRef } from "react";
import { AskPane } from "../answers/AskPane";
import { CommentsPane } from "../answers/CommentsPane";
import { useAnchor } from "../answers/useAnchor";
import { ViewerNote } from "../answers/ViewerNote";
import type { Shown } from "../services/shown.server";
import type { useWatching } from "../watch/useWatching";

/** What can stand beside the picture of an embed, or over it where there is no room. */
export type Panel = "answer" | "comments" | "seen";

export const PANEL_NAMES: Record<Panel, string> = {
  answer: "Your answer",
  comments: "Comments",
  seen: "What the sender sees",
};

export type Watching = ReturnType<typeof useWatching>;

interface Props {
  panel: Panel;
  /** is there room for both? */
  beside: boolean;
  shown: Shown;
  watching: Watching;
  onClose: () => void;
}

export function EmbedPanel({ panel, beside, shown, watching, onClose }: Props) {
  const { store, state, player, seek } = watching;
  const { token, link, sender } = shown;
  const heading = useRef<HTMLHeadingElement>(null);
  const field = useRef<HTMLTextAreaElement>(null);
  const [anchor, setAnchor] = useAnchor(token, shown.playable?.revision ?? null);
  // What has come is what is read next.
  useEffect(() => heading.current?.focus(), [panel]);
  return (
    <Box
      component="section"
      aria-label={PANEL_NAMES[panel]}
      onKeyDown={(e) => e.key === "Escape" && onClose()}
      sx={{
        bgcolor: "background.default",
        borderLeft: beside ? "1px solid" : 0,
        borderColor: "mist",
        overflowY: "auto",
        px: 1.5,
        pb: 1,
        ...(beside ? { width: 320, flexShrink: 0 } : { position: "absolute", inset: "0 0 44px 0", zIndex: 5 }),
      }}
    >
      <Box sx={{ display: "flex", alignItems: "center", position: "sticky", top: 0, bgcolor: "inherit", zIndex: 1 }}>
        <Typography ref={heading} tabIndex={-1} variant="h2" sx={{ flex: 1, py: 1, outline: "none" }}>
          {PANEL_NAMES[panel]}
        </Typography>
        <IconButton aria-label="Close" onClick={onClose}>
          <Close />
        </IconButton>
      </Box>
      {panel === "answer" && (
        <AskPane
          ask={state.ask}
          answer={state.answered}
          me={state.me}
          onSeek={seek}
          sender={sender}
          store={store}
          player={player}
        />
      )}
      {panel === "comments" && (
        <CommentsPane
          store={store}
          state={state}
          player={player}
          token={token}
          link={link}
          anchor={anchor}
          field={field}
          onAnchor={setAnchor}
          onSeek={seek}
          stretches={false}
        />
      )}
      {panel === "seen" && <ViewerNote store={store} me={state.me} sender={sender} />}
    </Box>
  );
}
