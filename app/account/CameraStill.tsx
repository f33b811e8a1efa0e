import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { DeviceProblem, openCamera } from "#capture/devices";
import { archRadius } from "../components/Arch";
import { TrackVideo } from "../components/TrackVideo";
import { FormError } from "../components/FormError";
import { frameOf } from "../components/frame-of";
import { usePictureSent } from "../components/usePictureSent";

/** As an arch is: half the width as radius on a shape of 1 : 1.15. */
const SHAPE = { width: 240, height: 276 };

/** As others see it: not mirrored; the server cuts it to the shape. */
const FINE = { type: "image/jpeg", quality: 0.92 };

interface Props {
  onTaken: () => void;
  onClose: () => void;
}

/** The camera in an arch; what it shows at a press is the portrait. It is off again when this is closed. */
export default function CameraStill({ onTaken, onClose }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const [track, setTrack] = useState<MediaStreamTrack | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    let closed = false;
    let opened: MediaStreamTrack | null = null;
    openCamera(null).then(
      (track) => {
        opened = track;
        // Closed while the browser asked.
        if (closed) track.stop();
        else setTrack(track);
      },
      (refused: unknown) =>
        setProblem(refused instanceof DeviceProblem ? refused.message : "The camera gives no picture."),
    );
    return () => {
      closed = true;
      opened?.stop();
    };
  }, []);
  const { send, busy, error } = usePictureSent("/portraits/new", () => {
    onTaken();
    onClose();
  });
  const take = async () => send(await frameOf(place.current!.querySelector("video")!, FINE));
  return (
    <Box role="group" aria-label="Portrait by the camera" sx={{ display: "grid", gap: 1.5, justifyItems: "start" }}>
      <Box
        ref={place}
        sx={{ ...SHAPE, borderRadius: archRadius, overflow: "hidden", bgcolor: "bar.main", display: "grid" }}
      >
        {track && <TrackVideo track={track} label="Your camera" mirrored />}
      </Box>
      {!track && !problem && <Typography role="status">Waiting for the camera</Typography>}
      <FormError error={problem ?? error} />
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" disabled={!track || busy} onClick={() => void take()}>
          {busy ? "Sending the picture" : "Take it"}
        </Button>
        <Button onClick={onClose}>Close</Button>
      </Box>
    </Box>
  );
}
