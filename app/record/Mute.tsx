import Button from "@mui/material/Button";
import type { Recorder } from "#capture/recorder";
import type { SoundKind } from "#capture/recorder-state";

interface Props {
  kind: SoundKind;
  /** whose sound it is, after the word: `my microphone` */
  name: string;
  recorder: Recorder;
  muted: readonly SoundKind[];
}

/** Nothing of a sound is heard, or it is heard again. */
export function Mute({ kind, name, recorder, muted }: Props) {
  const isMuted = muted.includes(kind);
  return (
    <Button
      variant={isMuted ? "contained" : "outlined"}
      color={isMuted ? "clay" : "primary"}
      aria-pressed={isMuted}
      onClick={() => recorder.mute(kind, !isMuted)}
      sx={{ flex: 1, whiteSpace: "nowrap" }}
    >
      {isMuted ? `Unmute ${name}` : `Mute ${name}`}
    </Button>
  );
}
