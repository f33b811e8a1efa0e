import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { formatClock, spokenLength, type Micros } from "#core/time/micros";

interface Props {
  /** in shown time */
  moments: readonly Micros[];
  onSeek: (at: Micros) => void;
}

/** A little before the press: what went wrong was said by then. */
const BEFORE: Micros = 3_000_000;

/** For the presenter alone: the moments of which they said, while recording, that something went wrong. */
export function Mistakes({ moments, onSeek }: Props) {
  if (moments.length === 0) return null;
  return (
    <Typography variant="body2" component="div">
      You marked what went wrong:
      {moments.map((at) => (
        <Button
          key={at}
          size="small"
          className="clock"
          aria-label={`Go to just before ${spokenLength(at)}`}
          onClick={() => onSeek(Math.max(0, at - BEFORE))}
          sx={{ minWidth: 0, minHeight: 24, py: 0 }}
        >
          {formatClock(at)}
        </Button>
      ))}
    </Typography>
  );
}
