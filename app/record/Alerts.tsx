import Alert from "@mui/material/Alert";
import type { RecorderState } from "#capture/recorder-state";
import type { Hush } from "./useMeter";

interface Props {
  state: RecorderState;
  /** what this browser cannot do */
  lack: string | null;
  hush: Hush;
}

const HUSH = {
  dead: "The microphone gives no sound at all. Check that it is on and not muted; recording goes on.",
  quiet: "Nothing was heard for 15 seconds. If you are speaking, check the microphone; recording goes on.",
};

/** What is not as it should be, with what was kept and what to do. */
export function Alerts({ state: { phase, problem, lost, slowed }, lack, hush }: Props) {
  const recording = phase === "recording";
  return (
    <>
      {problem && (
        <Alert severity="error" role="alert">
          {problem}
        </Alert>
      )}
      {lack && <Alert severity="warning">{lack}</Alert>}
      {recording && hush && !lost.includes("microphone") && (
        <Alert severity="warning" role="alert">
          {HUSH[hush]}
        </Alert>
      )}
      {recording && slowed && (
        <Alert severity="warning">
          This computer is busy: the picture is recorded at half its speed until there is room. The sound is whole.
        </Alert>
      )}
      {lost.map((device) => (
        <Alert key={device} severity="warning">
          The {device} was lost. Recording goes on without it. You can choose another below.
        </Alert>
      ))}
    </>
  );
}
