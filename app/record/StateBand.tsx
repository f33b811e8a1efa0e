import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { formatClock, SECOND } from "#core/time/micros";
import type { Limit, Phase, RecorderState } from "#capture/recorder-state";
import type { Recorder } from "#capture/recorder";
import { useEvery } from "../components/useEvery";
import { LOOKS } from "./phases";

const SURFACES = { monitor: "Whole screen", window: "A window", browser: "A browser tab" };

/** Each phase fills the band in its own way. */
const BAND: Record<Phase, object> = {
  ready: { bgcolor: "background.paper", color: "text.primary", border: "1px solid", borderColor: "mist" },
  asking: { bgcolor: "background.paper", color: "text.primary", border: "1px dashed", borderColor: "text.secondary" },
  rehearsing: { bgcolor: "mist", color: "text.primary", border: "2px dotted", borderColor: "text.primary" },
  waiting: { bgcolor: "background.paper", color: "text.primary", border: "2px dashed", borderColor: "marigold.main" },
  counting: { bgcolor: "marigold.main", color: "marigold.contrastText" },
  recording: { bgcolor: "clay.main", color: "clay.contrastText" },
  paused: { bgcolor: "background.paper", color: "text.primary", border: "4px double", borderColor: "text.primary" },
  saving: { bgcolor: "mist", color: "text.primary" },
  saved: { bgcolor: "primary.main", color: "primary.contrastText" },
};

const TIMED: readonly Phase[] = ["rehearsing", "recording", "paused", "saving"];

interface Props {
  recorder: Recorder;
  state: RecorderState;
  /** where there is little room: without what is shown */
  short?: boolean;
}

/** What is going on, large enough to be read from the corner of an eye. */
export function StateBand({ recorder, state, short = false }: Props) {
  const { phase, count, shared, startsAt, limit } = state;
  const look = LOOKS[phase];
  const timed = TIMED.includes(phase);
  return (
    <Box
      data-testid="state"
      data-phase={phase}
      sx={{ ...BAND[phase], minHeight: 56, px: 2, display: "flex", alignItems: "center", gap: 2, flexWrap: "wrap" }}
    >
      <Typography
        component="span"
        aria-hidden
        sx={{ fontSize: "1.8rem", lineHeight: 1, width: 36, textAlign: "center" }}
      >
        {phase === "counting" && count > 0 ? count : look.sign}
      </Typography>
      <Typography component="p" variant="h2" role="status" sx={{ flex: 1, minWidth: 120 }}>
        {phase === "counting" && count === 0 ? "Starting" : look.word}
        {phase === "ready" && shared && ". Nothing is recorded yet"}
        {phase === "counting" && count > 0 && ` ${count}`}
        {phase === "waiting" && startsAt !== null && `, at ${clockOf(startsAt)}`}
      </Typography>
      {phase === "waiting" && startsAt !== null && <ToGo at={startsAt} />}
      {shared && !short && (
        <Typography variant="body2" component="p" data-testid="shared">
          {shared.surface ? SURFACES[shared.surface] : "Screen"},{" "}
          {shared.withSound ? "with its sound" : "without its sound"}
        </Typography>
      )}
      {timed && limit && phase !== "saving" && <Left recorder={recorder} limit={limit} />}
      {timed && <Elapsed recorder={recorder} />}
    </Box>
  );
}

const clockOf = (at: number) =>
  new Date(at).toLocaleTimeString([], { hour: "numeric", minute: "2-digit", hourCycle: "h23" });

/** How long it is until a moment, told every second. */
function ToGo({ at }: { at: number }) {
  const toGo = useEvery(() => formatClock(1000 * Math.max(0, at - Date.now())));
  return (
    <Typography component="p" variant="h2" className="clock" role="timer" aria-label="Until it starts">
      in {toGo}
    </Typography>
  );
}

/** A limit that somebody else set is told when it comes near; one's own always. */
const NEAR = 300 * SECOND;
/** The seconds to go at which it is said aloud as well. */
const SAID = [60, 10];

/** How much may still be recorded. */
function Left({ recorder, limit }: { recorder: Recorder; limit: Limit }) {
  // A second that has begun is still there: 0:00 is the end.
  const left = useEvery(() => SECOND * Math.ceil(Math.max(0, limit.at - recorder.elapsed()) / SECOND));
  if (limit.why !== "chosen" && left > NEAR) return null;
  const last = left <= SAID[0]! * SECOND;
  return (
    <Typography component="p" className="clock" data-testid="left" sx={{ fontWeight: last ? 700 : 400 }}>
      {formatClock(left)} left
      <Box component="span" role="status" sx={{ position: "absolute", left: -9999 }}>
        {SAID.includes(left / SECOND) && `${left / SECOND} seconds left`}
      </Box>
    </Typography>
  );
}

function Elapsed({ recorder }: { recorder: Recorder }) {
  const elapsed = useEvery(() => formatClock(recorder.elapsed()));
  return (
    <Typography component="p" variant="h2" className="clock" role="timer" aria-label="Recorded">
      {elapsed}
    </Typography>
  );
}
