import { useEffect, useRef } from "react";

interface Props {
  track: MediaStreamTrack;
  label: string;
  mirrored?: boolean;
  fit?: "cover" | "contain";
  /** frames a second that are drawn at the most; drawing a large screen costs as much as encoding it */
  rate?: number;
}

/** A live picture of a track, without sound. */
export function TrackVideo({ track, label, mirrored = false, fit = "cover", rate }: Props) {
  const video = useRef<HTMLVideoElement>(null);
  useEffect(() => {
    const shown = rate === undefined ? track : track.clone();
    // Where a browser cannot slow down a copy, it is drawn at its own rate.
    if (rate !== undefined) shown.applyConstraints({ frameRate: { max: rate } }).catch(() => undefined);
    video.current!.srcObject = new MediaStream([shown]);
    return () => {
      if (shown !== track) shown.stop();
    };
  }, [track, rate]);
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
