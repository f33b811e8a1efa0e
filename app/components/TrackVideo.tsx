import { useEffect, useRef } from "react";

/** A live picture of a track, without sound. */
export function TrackVideo({
  track,
  label,
  mirrored = false,
  fit = "cover",
}: {
  track: MediaStreamTrack;
  label: string;
  mirrored?: boolean;
  fit?: "cover" | "contain";
}) {
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    video.current!.srcObject = new MediaStream([track]);
  }, [track]);
  return (
    <video
      ref={video}
      aria-label={label}
      autoPlay
      muted
      playsInline
      style={{
        width: "100%",
        height: "100%",
        objectFit: fit,
        display: "block",
        transform: mirrored ? "scaleX(-1)" : undefined,
      }}
    />
  );
}
