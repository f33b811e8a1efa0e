import Button from "@mui/material/Button";
import { useEffect } from "react";
import type { Recorder } from "#capture/recorder";
import type { Phase } from "#capture/recorder-state";
import { goBack, goingBack, useGoingBack } from "./going-back";
import { WhereFrom } from "./WhereFrom";

const leave = () => goingBack.tell(false);

/** Back to an earlier moment of the take, to go on from there. */
export function GoBack({ recorder, phase }: { recorder: Recorder; phase: Phase }) {
  const open = useGoingBack(phase);
  useEffect(() => {
    if (phase === "recording") goingBack.tell(false);
  }, [phase]);
  return open ? (
    <WhereFrom recorder={recorder} onLeave={leave} />
  ) : (
    <Button fullWidth variant="outlined" onClick={() => goBack(recorder)}>
      Go back, and go on from there
    </Button>
  );
}
