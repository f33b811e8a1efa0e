import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { formatClock } from "#core/time/micros";
import type { Phase, Recorder, RecorderState } from "#capture/recorder";
import { LOOKS } from "./phases";

const SURFACES = { monitor: "Whole screen", window: "A window", browser: "A browser tab" };

/** Each phase fills the band in its own way. */
const BAND: Record<Phase, object> = {
  ready: { bgcolor: "background.paper", color: "text.primary", border: "1px solid", borderColor: "mist" },
  asking: { bgcolor: "background.paper", color: "text.primary", border: "1px dashed", borderColor: "text.secondary" },
  counting: { bgcolor: "marigold.main", color: "marigold.contrastText" },
  recording: { bgcolor: "clay.main", color: "clay.contrastText" },
  paused: { bgcolor: "background.paper", color: "text.primary", border: "4px double", borderColor: "text.primary" },
  saving: { bgcolor: "mist", color: "text.primary" },
  saved: { bgcolor: "primary.main", color: "primary.contrastText" },
};

/** What is going on, large enough to be read from the corner of an eye. */
export function StateBand({ recorder, state }: { recorder: Recorder; state: RecorderState }) {
  const { phase, count, shared } = state;
  const look = LOOKS[phase];
  const timed = phase === "recording" || phase === "paused" || phase === "saving";
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
      </Typography>
      {shared && (
        <Typography variant="body2" component="p" data-testid="shared">
          {shared.surface ? SURFACES[shared.surface] : "Screen"},{" "}
          {shared.withSound ? "with its sound" : "without its sound"}
        </Typography>
      )}
      {timed && <Elapsed recorder={recorder} running={phase === "recording"} />}
    </Box>
  );
}

function Elapsed({ recorder, running }: { recorder: Recorder; running: boolean }) {
  const [text, setText] = useState(() => formatClock(recorder.elapsed()));
  useEffect(() => {
    setText(formatClock(recorder.elapsed()));
    if (!running) return;
    const timer = setInterval(() => setText(formatClock(recorder.elapsed())), 200);
    return () => clearInterval(timer);
  }, [recorder, running]);
  return (
    <Typography component="p" variant="h2" className="clock" role="timer" aria-label="Recorded">
      {text}
    </Typography>
  );
}
