import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useSnackbar } from "notistack";
import { lazy, Suspense, useEffect, useSyncExternalStore } from "react";
import { Link, useLocation, useNavigate } from "react-router";
import type { Recorder } from "#capture/recorder";
import type { Phase, RecorderState } from "#capture/recorder-state";
import { formatClock, spokenLength } from "#core/time/micros";
import { useEvery } from "../components/useEvery";
import { JUST_RECORDED } from "./just-recorded";
import { useOutbox } from "./outbox";
import { LOOKS } from "./phases";
import { tab } from "./tab";
import { useTelling } from "./useTelling";

/** On every page of the tab: what is being recorded goes on, is told, and can be stopped. */
export function RecorderBar() {
  const { recorder, cues, floating } = useSyncExternalStore(tab.subscribe, tab.snapshot, () => NONE);
  return (
    recorder && (
      <>
        <Told recorder={recorder} cues={cues} />
        {floating && (
          <Suspense>
            <Floating recorder={recorder} where={floating} />
          </Suspense>
        )}
      </>
    )
  );
}

const NONE = { recorder: null, cues: true, floating: null, cameras: null };
const Floating = lazy(() => import("./Floating").then(({ Floating }) => ({ default: Floating })));
/** Where the recorder itself is shown. */
const DESKS = ["/record", "/here"];
/** A take is under way. */
const UNDER_WAY: readonly Phase[] = ["recording", "paused", "saving"];

function Told({ recorder, cues }: { recorder: Recorder; cues: boolean }) {
  const state = useSyncExternalStore(recorder.subscribe, recorder.snapshot);
  const { pathname, key } = useLocation();
  const atHome = DESKS.includes(pathname);
  useTelling(state.phase, state.count, cues, atHome, key);
  useOpenWhenSaved(state);
  const underWay = UNDER_WAY.includes(state.phase);
  useEffect(() => {
    if (!underWay) return;
    // What is in hand would be lost with the tab: it asks before it closes.
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [underWay]);
  if (atHome || !underWay) return null;
  return <Bar recorder={recorder} phase={state.phase} />;
}

function Bar({ recorder, phase }: { recorder: Recorder; phase: Phase }) {
  const elapsed = useEvery(() => formatClock(recorder.elapsed()));
  const { word, sign } = LOOKS[phase];
  return (
    <Box
      role="region"
      aria-label="Recorder"
      data-phase={phase}
      sx={{
        display: "flex",
        flexWrap: "wrap",
        alignItems: "center",
        gap: 1.5,
        px: { xs: 1.5, sm: 3 },
        py: 0.5,
        bgcolor: phase === "recording" ? "clay.main" : "mist",
        color: phase === "recording" ? "clay.contrastText" : "text.primary",
      }}
    >
      <span aria-hidden>{sign}</span>
      <strong role="status">{word}</strong>
      <span className="clock" role="timer" aria-label="Recorded">
        {elapsed}
      </span>
      <Box sx={{ ml: "auto", display: "flex", gap: 1, "& a, & button": { color: "inherit", borderColor: "inherit" } }}>
        {phase !== "saving" && (
          <>
            <Button variant="outlined" size="small" onClick={() => void recorder.stop()}>
              Stop
            </Button>
            <Button size="small" onClick={() => (phase === "paused" ? recorder.resume() : recorder.pause())}>
              {phase === "paused" ? "Resume" : "Pause"}
            </Button>
          </>
        )}
        <Button size="small" component={Link} to="/record">
          Go to it
        </Button>
      </Box>
    </Box>
  );
}

/** After Stop: the link goes to the clipboard and the preview opens, as soon as the server has the end. */
function useOpenWhenSaved({ phase, take, limited, limit }: RecorderState) {
  const navigate = useNavigate();
  const { enqueueSnackbar } = useSnackbar();
  const { sending } = useOutbox();
  const state = sending.find((s) => s.take.takeId === take?.takeId)?.state;
  // Off line there is nothing to open yet; the page then says what is kept here.
  const reached =
    phase === "saved" && Boolean(take?.registered) && (state === undefined || state.complete || state.hold === null);
  useEffect(() => {
    // Without a connection there is no link yet; the page says so.
    if (phase !== "saving" || !take?.registered) return;
    navigator.clipboard.writeText(take.registered.link).then(
      () => enqueueSnackbar("Link copied"),
      () => enqueueSnackbar("The browser did not let us copy the link. Use the copy button.", { variant: "warning" }),
    );
  }, [phase, take, enqueueSnackbar]);
  useEffect(() => {
    if (!limited || !limit) return;
    enqueueSnackbar(`It has ended by itself after ${spokenLength(limit.at)}`);
  }, [limited, limit, enqueueSnackbar]);
  useEffect(() => {
    if (reached) void navigate(`/w/${take!.registered!.token}`, { state: JUST_RECORDED });
  }, [reached, take, navigate]);
}
