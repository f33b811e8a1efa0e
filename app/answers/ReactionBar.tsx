import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useSnackbar } from "notistack";
import { REACTION_NAMES, REACTIONS, type ReactionKind } from "#core/answers/kinds";
import { formatClock } from "#core/time/micros";
import { ReactionSign, reactionColor } from "../components/ReactionSign";
import type { Player } from "../player/player";
import { momentOf } from "./Composer";
import { Refused, type AnswersStore } from "./store";

/** Puts a reaction at the moment, and lets it be taken back. */
export function useReact(store: AnswersStore | null, player: Player | null) {
  const { enqueueSnackbar, closeSnackbar } = useSnackbar();
  const attempt = async (say: () => Promise<string | null>) => {
    try {
      return await say();
    } catch (error) {
      if (!(error instanceof Refused)) throw error;
      enqueueSnackbar(error.message, { variant: "error" });
      return null;
    }
  };
  return async (kind: ReactionKind) => {
    if (!store) return;
    const at = momentOf(player);
    const id = await attempt(() => store.say({ do: "react", kind, at }));
    if (!id) return;
    enqueueSnackbar(`${REACTION_NAMES[kind]}, at ${formatClock(at)}`, {
      autoHideDuration: 5_000,
      action: (key) => (
        <Button
          sx={{ color: "marigold.main" }}
          onClick={() => {
            closeSnackbar(key);
            void attempt(() => store.say({ do: "unreact", id }));
          }}
        >
          Take back
        </Button>
      ),
    });
  };
}

export function ReactionBar({ onReact, disabled }: { onReact: (kind: ReactionKind) => void; disabled: boolean }) {
  return (
    <Box role="group" aria-label="React at this moment" sx={{ display: "flex", flexWrap: "wrap", border: "1px solid", borderTop: 0, borderColor: "mist", bgcolor: "background.paper", px: { xs: 0.5, sm: 1 } }}>
      {REACTIONS.map((kind, i) => (
        <Button key={kind} disabled={disabled} onClick={() => onReact(kind)} title={`${REACTION_NAMES[kind]} (key ${i + 1})`} sx={{ color: "text.primary", gap: 0.75, px: { xs: 1, sm: 1.5 }, minWidth: 0, flex: { xs: 1, sm: "none" }, flexDirection: { xs: "column", sm: "row" }, fontSize: { xs: "0.78rem", sm: "0.95rem" }, lineHeight: 1.2, py: 0.75 }}>
          <Box component="span" sx={{ color: reactionColor(kind) }}>
            <ReactionSign kind={kind} />
          </Box>
          {REACTION_NAMES[kind]}
        </Button>
      ))}
    </Box>
  );
}
