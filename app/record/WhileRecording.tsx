import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import type { Device as DeviceName, Shared, SoundKind } from "#capture/recorder-state";
import type { Recorder } from "#capture/recorder";
import { Folded } from "../components/Folded";
import { Mute } from "./Mute";
import { Cameras } from "./Cameras";
import { goBack } from "./going-back";
import { NoteButtons } from "./NoteButtons";
import { Device } from "./Setup";
import { SoundLevel } from "./SoundLevel";
import type { OpenDevice } from "./useDevices";

interface Changeable {
  device: OpenDevice;
  list: MediaDeviceInfo[];
}

interface Props {
  recorder: Recorder;
  shared: Shared | null;
  lost: readonly DeviceName[];
  muted: readonly SoundKind[];
  soundLevel: number;
  onSoundLevel: (level: number) => void;
  microphone: Changeable | null;
  camera: Changeable | null;
}

/** What can be changed in the middle of a take: the recording goes on, with the other one. */
export function WhileRecording({ recorder, shared, lost, muted, microphone, camera, ...sound }: Props) {
  const [asking, setAsking] = useState(false);
  const change = async () => {
    setAsking(true);
    await recorder.changeSurface();
    setAsking(false);
  };
  const names = [microphone, camera].flatMap((c) => (c ? [c.device.track?.label || "none"] : []));
  return (
    <>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        {microphone && <Mute kind="microphone" name="my microphone" recorder={recorder} muted={muted} />}
        {shared?.withSound && <Mute kind="sound" name="the computer" recorder={recorder} muted={muted} />}
      </Box>
      <Cameras />
      <NoteButtons recorder={recorder} />
      <Button fullWidth variant="outlined" onClick={() => goBack(recorder)}>
        Go back, and go on from there
      </Button>
      {shared?.withSound && <SoundLevel level={sound.soundLevel} onLevel={sound.onSoundLevel} />}
      {shared && (
        <Button fullWidth variant="outlined" disabled={asking} onClick={() => void change()}>
          {asking ? "Choose in the browser's window" : "Show something else"}
        </Button>
      )}
      {names.length > 0 && (
        // What was lost is chosen anew: then the fold stands open.
        <Folded key={lost.join()} title="Recorded with" value={names.join(", ")} open={lost.length > 0}>
          {microphone && <Device name="Microphone" {...microphone} wanted />}
          {camera && <Device name="Camera" {...camera} wanted />}
        </Folded>
      )}
    </>
  );
}
