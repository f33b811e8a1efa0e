import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useSyncExternalStore } from "react";
import type { RecorderState } from "#capture/recorder-state";
import type { Recorder } from "#capture/recorder";
import { PlayButton, sendWords } from "./Outgoing";
import { canFloat, toggleFloating } from "./floating";
import { useOutbox } from "./outbox";
import { RecordButton, type Doubt, type Shown } from "./RecordButton";
import { Sure } from "./Sure";
import { tab } from "./tab";

interface Props {
  recorder: Recorder;
  state: RecorderState;
  onRecord: () => void;
  onStartOver: () => void;
  onArea: (() => void) | null;
  choosingArea: boolean;
  shown: Shown;
  atOnce: boolean;
  /** when it starts by itself, `14:30`; "" for by this press */
  clock: string;
  doubt: Doubt | null;
  asked: boolean;
  onAsked: (asked: boolean) => void;
  disabled: boolean;
}

/** What can be pressed in each phase. */
export function Controls({
  recorder,
  state: { phase, take, shared },
  onRecord,
  onStartOver,
  onArea,
  choosingArea,
  shown,
  atOnce,
  clock,
  doubt,
  asked,
  onAsked,
  disabled,
}: Props) {
  const { floating } = useSyncExternalStore(tab.subscribe, tab.snapshot);
  const { sending } = useOutbox();
  const mine = sending.find((s) => s.take.takeId === take?.takeId)?.state;
  const big = { variant: "contained" as const, size: "large" as const, fullWidth: true };
  if (phase === "ready" || phase === "asking") {
    return (
      <RecordButton
        disabled={disabled}
        shown={shown}
        atOnce={atOnce}
        asking={phase === "asking"}
        clock={clock}
        doubt={doubt}
        asked={asked}
        onAsked={onAsked}
        onChoose={() => void recorder.choose()}
        onRelease={() => recorder.release()}
        onArea={onArea}
        choosingArea={choosingArea}
        onRecord={onRecord}
      />
    );
  }
  if (phase === "counting" || phase === "waiting" || phase === "rehearsing")
    return (
      <Button {...big} variant="outlined" autoFocus onClick={() => recorder.cancel()}>
        Cancel
      </Button>
    );
  if (phase === "saving" || phase === "saved") {
    return (
      <Box sx={{ display: "grid", gap: 1.5 }}>
        <Typography role="status">
          {mine && !mine.complete ? sendWords(mine) : "Everything is on the server."}
        </Typography>
        {take &&
          (take.registered ? (
            <Typography sx={{ overflowWrap: "anywhere" }}>{take.registered.link}</Typography>
          ) : (
            <Typography>Its link is there as soon as the server hears of it.</Typography>
          ))}
        {phase === "saved" && take && mine && (
          <PlayButton take={take} {...big}>
            Play it from here
          </PlayButton>
        )}
        {phase === "saved" && (
          <Button {...big} variant="outlined" onClick={() => recorder.again()}>
            Record another
          </Button>
        )}
      </Box>
    );
  }
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <Button {...big} color="clay" onClick={() => void recorder.stop()} sx={{ minHeight: 56 }}>
        Stop
      </Button>
      {phase === "recording" ? (
        <Button {...big} variant="outlined" onClick={() => recorder.pause()}>
          Pause
        </Button>
      ) : (
        <Button {...big} onClick={() => recorder.resume()}>
          Resume
        </Button>
      )}
      <Box sx={{ display: "grid", gap: 1, gridTemplateColumns: "1fr 1fr" }}>
        <Sure name="Start over" sure="Throw it away and start" onSure={onStartOver} />
        <Sure name="Discard" sure="Discard it" onSure={() => void recorder.discard()} />
      </Box>
      {canFloat() && (
        <Button fullWidth onClick={() => void toggleFloating()} aria-pressed={floating !== null}>
          {floating ? "Controls back here" : "Controls above all windows"}
        </Button>
      )}
      {floating && shared?.surface === "monitor" && (
        <Alert severity="warning">You show the whole screen: everybody sees the small window too.</Alert>
      )}
      {mine?.hold && <Alert severity="warning">{sendWords(mine)}</Alert>}
    </Box>
  );
}
