import Alert from "@mui/material/Alert";
import type { RecorderState } from "#capture/recorder-state";
import type { SoundAlarm } from "#core/audio/hearing";
import { CopyDetails } from "../components/CopyDetails";
import { saidBytes } from "../components/saidBytes";

interface Props {
  state: RecorderState;
  /** what this browser cannot do */
  lack: string | null;
  alarm: SoundAlarm | null;
  /** bytes that wait on this computer for the connection */
  waiting: number;
  /** minutes that this computer has room for; null where it does not tell */
  minutesLeft: number | null;
}

const ALARMS: Record<SoundAlarm, string> = {
  dead: "The microphone gives no sound at all. Check that it is on and not muted; recording goes on.",
  quiet: "Nothing was heard for 6 seconds. If you are speaking, check the microphone; recording goes on.",
  clipping: "It is too loud: the sound is cut off. Go back a little, or turn the microphone down.",
};

type AlarmProps = Pick<RecorderState, "phase" | "muted" | "lost"> & Pick<Props, "alarm">;

/** What is wrong with the microphone while it is recorded; one that is muted is told apart from one that is silent. */
export function Alarm({ phase, alarm, muted, lost }: AlarmProps) {
  if (phase !== "recording") return null;
  if (muted.includes("microphone"))
    return <Alert severity="info">Your microphone is muted: nothing of you is heard until you unmute it.</Alert>;
  if (!alarm || lost.includes("microphone")) return null;
  return (
    <Alert severity="warning" role="alert">
      {ALARMS[alarm]}
    </Alert>
  );
}

/** So much waits that the link will be behind for a while: about a minute of a recording. */
const FAR_BEHIND = 15_000_000;
const LITTLE_ROOM = 5;

/** What is not as it should be, with what was kept and what to do. */
export function Alerts({ state: { phase, problem, lost, slowed, muted }, lack, alarm, waiting, minutesLeft }: Props) {
  const recording = phase === "recording";
  return (
    <>
      {problem && (
        <Alert severity="error" role="alert" action={<CopyDetails />}>
          {problem}
        </Alert>
      )}
      {lack && <Alert severity="warning">{lack}</Alert>}
      <Alarm phase={phase} alarm={alarm} muted={muted} lost={lost} />
      {recording && waiting > FAR_BEHIND && (
        <Alert severity="warning">
          The connection is slower than the recording: {saidBytes(waiting)} wait on this computer. Nothing is lost; the
          link will be whole later than you stop.
        </Alert>
      )}
      {recording && minutesLeft !== null && minutesLeft < LITTLE_ROOM && (
        <Alert severity="warning" role="alert">
          This computer has room for about {Math.max(0, Math.floor(minutesLeft))} more minutes. Free some space, or stop
          soon: what is recorded is kept.
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
