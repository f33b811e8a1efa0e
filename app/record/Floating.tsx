import createCache from "@emotion/cache";
import { CacheProvider } from "@emotion/react";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import CssBaseline from "@mui/material/CssBaseline";
import { ThemeProvider } from "@mui/material/styles";
import Typography from "@mui/material/Typography";
import { useEffect, useMemo, useSyncExternalStore } from "react";
import { createPortal } from "react-dom";
import type { Recorder } from "#capture/recorder";
import type { Shared } from "#capture/recorder-state";
import { pageNonce } from "../components/nonce";
import { theme } from "../theme";
import { Alarm } from "./Alerts";
import { Cameras } from "./Cameras";
import { Scenes } from "../components/Arrange";
import { takeDeeds, windowDeeds } from "./deeds";
import { makeRoom } from "./floating";
import { DrawBar } from "./DrawBar";
import { DrawPad } from "./DrawPad";
import { goBack, leaveBack, useGoingBack } from "./going-back";
import { LevelBar } from "./LevelBar";
import { Mute } from "./Mute";
import { NoteButtons } from "./NoteButtons";
import { usePen } from "./pen";
import { Stage } from "./Stage";
import { StateBand } from "./StateBand";
import { Sure } from "./Sure";
import { WhereFrom } from "./WhereFrom";
import { useDeskKeys } from "./useDeskKeys";
import { useMeter, useSoundAlarm } from "./useMeter";

interface Props {
  recorder: Recorder;
  where: Window;
}

/** The controls of a take in a small window above all others: on whatever page the tab is, or behind what is shown. */
export function Floating({ recorder, where }: Props) {
  const cache = useMemo(() => {
    // A key of its own: by the page's it would look for its styles in the page, and take them away from there.
    return createCache({ key: "cnf", nonce: pageNonce(), container: where.document.head });
  }, [where]);
  return createPortal(
    <CacheProvider value={cache}>
      <ThemeProvider theme={theme} disableNestedContext>
        <CssBaseline />
        <Inside recorder={recorder} where={where} />
      </ThemeProvider>
    </CacheProvider>,
    where.document.body,
  );
}

const GRID = { display: "grid", gap: 0.75, gridTemplateColumns: "1fr 1fr" } as const;

function Inside({ recorder, where }: Props) {
  const state = useSyncExternalStore(recorder.subscribe, recorder.snapshot);
  const { phase, muted, shared, arrangement } = state;
  const running = phase === "recording" || phase === "paused";
  const microphone = (running && recorder.deviceOf("microphone")) || null;
  const meter = useMeter(microphone, recorder.gainOf("microphone"));
  const alarm = useSoundAlarm(meter, recorder);
  useDeskKeys({ ...takeDeeds(recorder, state), ...windowDeeds() }, where);
  useEffect(() => {
    // There is nothing more to steer.
    if (phase === "saved") where.close();
  }, [phase, where]);
  const back = useGoingBack(phase);
  const cancellable = phase === "counting" || phase === "waiting" || phase === "rehearsing";
  return (
    <Box component="main" sx={{ display: "grid", gap: 1, p: 1, "& button": { whiteSpace: "nowrap" } }}>
      <Typography variant="h1" sx={{ position: "absolute", left: -9999 }}>
        Controls of the recorder
      </Typography>
      <StateBand recorder={recorder} state={state} short />
      {meter && <LevelBar meter={meter} />}
      {running && <Alarm phase={phase} alarm={alarm} muted={muted} lost={state.lost} />}
      {phase === "ready" && <Typography>Press Record on the page. The controls come here then.</Typography>}
      {cancellable && (
        <Button variant="outlined" onClick={() => recorder.cancel()}>
          Cancel
        </Button>
      )}
      {back && <WhereFrom recorder={recorder} onLeave={leaveBack} />}
      {running && !back && (
        <>
          <Box sx={GRID}>
            <Button variant="contained" color="clay" onClick={() => void recorder.stop()}>
              Stop
            </Button>
            {phase === "paused" ? (
              <Button variant="contained" onClick={() => recorder.resume()}>
                Resume
              </Button>
            ) : (
              <Button variant="outlined" onClick={() => recorder.pause()}>
                Pause
              </Button>
            )}
            {microphone && <Mute kind="microphone" name="me" recorder={recorder} muted={muted} />}
            {shared?.withSound && <Mute kind="sound" name="computer" recorder={recorder} muted={muted} />}
          </Box>
          {recorder.arranges && (
            <Scenes scene={arrangement.scene} onScene={(scene) => recorder.arrange({ scene })} short />
          )}
          {shared && <Draw recorder={recorder} shared={shared} camera={null} where={where} />}
          {recorder.source === "camera" && (
            <Draw recorder={recorder} shared={null} camera={recorder.deviceOf("camera") ?? null} where={where} />
          )}
          <Cameras />
          <NoteButtons recorder={recorder} />
          <Button variant="outlined" onClick={() => goBack(recorder)}>
            Go back, and go on
          </Button>
          <Box sx={GRID}>
            <Sure name="Start over" sure="Throw it away and start" onSure={() => void recorder.startOver()} />
            <Sure name="Discard" sure="Discard it" onSure={() => void recorder.discard()} />
          </Box>
        </>
      )}
    </Box>
  );
}

interface DrawProps extends Props {
  /** what is shown; or else the camera that is recorded alone */
  shared: Shared | null;
  camera: MediaStreamTrack | null;
}

/** What is recorded, in small, to draw on. */
function Draw({ recorder, shared, camera, where }: DrawProps) {
  const { drawing } = usePen();
  useEffect(() => makeRoom(where, drawing), [where, drawing]);
  return (
    <>
      <DrawBar recorder={recorder} />
      {drawing && (
        <Stage
          source={shared ? "screen" : "camera"}
          arrangement={recorder.snapshot().arrangement}
          shared={shared}
          guides={false}
          area={null}
          camera={camera}
          meter={null}
          mirrored={false}
          pad={(frame) => <DrawPad recorder={recorder} frame={frame} />}
          onDrop={() => undefined}
        />
      )}
    </>
  );
}
