import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useSnackbar } from "notistack";
import { REACTION_NAMES, REACTIONS, type ReactionKind } from "#core/answers/kinds";
import { formatClock } from "#core/time/micros";
import type { ShownReaction } from "#server/answers/reactions";
import { ReactionSign, reactionColor } from "../components/ReactionSign";
import type { Player } from "../player/player";
import { momentOf } from "./Composer";
import type { AnswersStore } from "./store";
import { useSay } from "./useSay";

/** Puts a reaction at the moment. */
export function useReact(store: AnswersStore | null, player: Player | null) {
  const { say } = useSay(store);
  const { enqueueSnackbar } = useSnackbar();
  return async (kind: ReactionKind) => {
    const at = momentOf(player);
    if (await say({ do: "react", kind, at }))
      enqueueSnackbar(`${REACTION_NAMES[kind]}, at ${formatClock(at)}`, { autoHideDuration: 2_500 });
  };
}

interface Props {
  onReact: (kind: ReactionKind) => void;
  disabled: boolean;
  /** this viewer's own, in order of time */
  own: ShownReaction[];
  store: AnswersStore | null;
}

/** The five, placed at the moment with one press; and one's own, to take back. */
export function ReactionBar({ onReact, disabled, own, store }: Props) {
  const { say } = useSay(store);
  return (
    <Box
      sx={{
        border: "1px solid",
        borderTop: 0,
        borderColor: "mist",
        bgcolor: "background.paper",
        px: { xs: 0.5, sm: 1 },
        display: { md: "flex" },
        alignItems: "center",
        flexShrink: 0,
      }}
    >
      <Box
        role="group"
        aria-label="React at this moment"
        sx={{ display: "flex", flexWrap: { xs: "wrap", md: "nowrap" } }}
      >
        {REACTIONS.map((kind, i) => (
          <Button
            key={kind}
            disabled={disabled}
            onClick={() => onReact(kind)}
            title={`${REACTION_NAMES[kind]} (key ${i + 1})`}
            sx={{
              color: "text.primary",
              gap: 0.75,
              px: { xs: 1, sm: 1.5 },
              minWidth: 0,
              flex: { xs: 1, sm: "none" },
              flexDirection: { xs: "column", sm: "row" },
              fontSize: { xs: "0.78rem", sm: "0.95rem" },
              lineHeight: 1.2,
              py: 0.75,
            }}
          >
            <Box component="span" sx={{ color: reactionColor(kind) }}>
              <ReactionSign kind={kind} />
            </Box>
            {REACTION_NAMES[kind]}
          </Button>
        ))}
      </Box>
      {own.length > 0 && (
        <Box
          role="group"
          aria-label="Your reactions"
          sx={{
            display: "flex",
            flexWrap: { xs: "wrap", md: "nowrap" },
            alignItems: "center",
            borderTop: { xs: "1px solid", md: 0 },
            borderLeft: { md: "1px solid" },
            borderColor: { xs: "mist", md: "mist" },
            pl: 1,
            ml: { md: "auto" },
            minWidth: 0,
            overflowX: { md: "auto" },
          }}
        >
          <Typography variant="body2" color="text.secondary" sx={{ mr: 1 }}>
            Yours, press to take back:
          </Typography>
          {own.map(({ id, kind, at }) => (
            <Button
              key={id}
              size="small"
              aria-label={`Take back ${REACTION_NAMES[kind]} at ${formatClock(at)}`}
              onClick={() => void say({ do: "unreact", id })}
              sx={{ gap: 0.5, minWidth: 0, color: reactionColor(kind) }}
              className="clock"
            >
              <ReactionSign kind={kind} size={18} />
              {formatClock(at)}
            </Button>
          ))}
        </Box>
      )}
    </Box>
  );
}
