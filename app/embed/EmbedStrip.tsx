import OpenInNew from "@mui/icons-material/OpenInNew";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import { REACTION_NAMES, REACTIONS } from "#core/answers/kinds";
import { EmblemPicture } from "../brand/EmblemPicture";
import { ReactionSign, reactionColor } from "../components/ReactionSign";
import type { Shown } from "../services/shown.server";
import { PANEL_NAMES, type Panel, type Watching } from "./EmbedPanel";

interface Props {
  shown: Shown;
  watching: Watching;
  /** are comments shown here? */
  comments: boolean;
  /** is an answer asked for that was not given yet? */
  owes: boolean;
  panel: Panel | null;
  onPanel: (panel: Panel) => void;
}

/** Under the player of an embed: what it is, and what can be said of it. */
export function EmbedStrip({ shown, watching, comments, owes, panel, onPanel }: Props) {
  const { title, sender, link, brand } = shown;
  const { state, react, player } = watching;
  const { threads } = state;
  const open = (name: Panel, words: string, marked = false) => (
    <Button
      size="small"
      aria-expanded={panel === name}
      onClick={() => onPanel(name)}
      variant={marked ? "contained" : "text"}
      color={marked ? "marigold" : "primary"}
      sx={{ whiteSpace: "nowrap", minWidth: 0 }}
    >
      {words}
    </Button>
  );
  return (
    <Box
      sx={{
        height: 44,
        flexShrink: 0,
        display: "flex",
        alignItems: "center",
        gap: { xs: 0.25, sm: 1 },
        px: 1,
        bgcolor: "background.paper",
        border: "1px solid",
        borderTop: 0,
        borderColor: "mist",
      }}
    >
      {brand?.emblem && <EmblemPicture emblem={brand.emblem} name={brand.name} />}
      <Typography
        component="h1"
        variant="body2"
        noWrap
        sx={{ flex: 1, minWidth: 0, "& a": { color: "inherit", textDecorationColor: "transparent" } }}
      >
        <a href={link} target="_blank" rel="noopener" title={`Open “${title}” at Clear Nod`}>
          <strong>{title}</strong>
          <OpenInNew aria-hidden sx={{ fontSize: 14, verticalAlign: "-2px", ml: 0.5 }} />
        </a>{" "}
        {sender}
      </Typography>
      <Box
        role="group"
        aria-label="React at this moment"
        sx={{ display: "none", "@media (min-width: 760px)": { display: "flex" } }}
      >
        {REACTIONS.map((kind) => (
          <IconButton
            key={kind}
            size="small"
            aria-label={REACTION_NAMES[kind]}
            title={REACTION_NAMES[kind]}
            disabled={!player || !state.me}
            onClick={() => void react(kind)}
            sx={{ color: reactionColor(kind), width: 36, height: 36 }}
          >
            <ReactionSign kind={kind} size={20} />
          </IconButton>
        ))}
      </Box>
      {state.ask.kind !== "nothing" && open("answer", owes ? "Answer" : PANEL_NAMES.answer, owes)}
      {comments && open("comments", threads > 0 ? `Comments, ${threads}` : "Comments")}
      {open("seen", "Seen as")}
    </Box>
  );
}
