import Button from "@mui/material/Button";
import { useState } from "react";
import type { Device as DeviceName, Shared } from "#capture/recorder-state";
import type { Recorder } from "#capture/recorder";
import { Folded } from "../components/Folded";
import { Device } from "./Setup";
import type { OpenDevice } from "./useDevices";

interface Changeable {
  device: OpenDevice;
  list: MediaDeviceInfo[];
}

interface Props {
  recorder: Recorder;
  shared: Shared | null;
  lost: readonly DeviceName[];
  microphone: Changeable | null;
  camera: Changeable | null;
}

/** What can be changed in the middle of a take: the recording goes on, with the other one. */
export function WhileRecording({ recorder, shared, lost, microphone, camera }: Props) {
  const [asking, setAsking] = useState(false);
  const change = async () => {
    setAsking(true);
    await recorder.changeSurface();
    setAsking(false);
  };
  const names = [microphone, camera].flatMap((c) => (c ? [c.device.track?.label || "none"] : []));
  return (
    <>
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
