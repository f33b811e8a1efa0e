import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { DeviceProblem, openCamera } from "#capture/devices";
import { archRadius } from "../components/Arch";
import { TrackVideo } from "../components/TrackVideo";
import { FormError } from "../components/FormError";

/** As an arch is: half the width as radius on a shape of 1 : 1.15. */
const SHAPE = { width: 240, height: 276 };

interface Props {
  onTaken: () => void;
  onClose: () => void;
}

/** The camera in an arch; what it shows at a press is the portrait. It is off again when this is closed. */
export default function CameraStill({ onTaken, onClose }: Props) {
  const place = useRef<HTMLDivElement>(null);
  const [track, setTrack] = useState<MediaStreamTrack | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
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
  const take = async () => {
    setBusy(true);
    setProblem(null);
    try {
      const picture = await stillOf(place.current!.querySelector("video")!);
      const answer = await fetch("/portraits/new", { method: "POST", body: picture });
      const { error } = (await answer.json()) as { error: string | null };
      if (error) return setProblem(error);
      onTaken();
      onClose();
    } catch {
      setProblem("There is no connection. The picture was not sent.");
    } finally {
      setBusy(false);
    }
  };
  return (
    <Box role="group" aria-label="Portrait by the camera" sx={{ display: "grid", gap: 1.5, justifyItems: "start" }}>
      <Box
        ref={place}
        sx={{ ...SHAPE, borderRadius: archRadius, overflow: "hidden", bgcolor: "bar.main", display: "grid" }}
      >
        {track && <TrackVideo track={track} label="Your camera" mirrored />}
      </Box>
      {!track && !problem && <Typography role="status">Waiting for the camera</Typography>}
      <FormError error={problem} />
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" disabled={!track || busy} onClick={() => void take()}>
          {busy ? "Sending the picture" : "Take it"}
        </Button>
        <Button onClick={onClose}>Close</Button>
      </Box>
    </Box>
  );
}

/** What a camera shows now, cut to the shape; as others see it, not mirrored. */
async function stillOf(video: HTMLVideoElement): Promise<Blob> {
  const { videoWidth, videoHeight } = video;
  const scale = Math.max((2 * SHAPE.width) / videoWidth, (2 * SHAPE.height) / videoHeight);
  const canvas = new OffscreenCanvas(2 * SHAPE.width, 2 * SHAPE.height);
  const [width, height] = [videoWidth * scale, videoHeight * scale];
  canvas.getContext("2d")!.drawImage(video, (canvas.width - width) / 2, (canvas.height - height) / 2, width, height);
  return canvas.convertToBlob({ type: "image/jpeg", quality: 0.92 });
}
