import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useSnackbar } from "notistack";
import { useState } from "react";
import { formatClock, spokenLength, type Micros } from "#core/time/micros";
import type { Player } from "../player/player";
import { stillOf } from "../player/still";
import { download } from "../components/download";

interface Props {
  /** in shown time */
  moments: readonly Micros[];
  player: Player | null;
  title: string;
}

/** For the presenter alone: pictures that they asked for while recording, each as fine as it was recorded. */
export function Stills({ moments, player, title }: Props) {
  const [busy, setBusy] = useState(false);
  const { enqueueSnackbar } = useSnackbar();
  if (moments.length === 0) return null;
  const save = async (at: Micros) => {
    if (!player) return;
    setBusy(true);
    try {
      const time = formatClock(at).replaceAll(":", "-");
      download(`${title.replace(/[\\/:*?"<>|]/g, " ")} ${time}.png`, await stillOf(player, at));
    } catch (error) {
      enqueueSnackbar((error as Error).message, { variant: "error" });
    }
    setBusy(false);
  };
  return (
    <Typography variant="body2" component="div">
      Pictures to save:
      {moments.map((at) => (
        <Button
          key={at}
          size="small"
          className="clock"
          disabled={busy || !player}
          aria-label={`Save the picture at ${spokenLength(at)}`}
          onClick={() => void save(at)}
          sx={{ minWidth: 0, minHeight: 24, py: 0 }}
        >
          {formatClock(at)}
        </Button>
      ))}
    </Typography>
  );
}
