import Box from "@mui/material/Box";
import { useEffect, useRef } from "react";
import type { Glimpse } from "#capture/engine/glimpses";
import { formatClock, type Micros } from "#core/time/micros";

/** What was seen at a moment, in small. @param at in source time */
export function Glimpsed({ glimpses, at }: { glimpses: readonly Glimpse[]; at: Micros }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const glimpse = glimpses.findLast((g) => g.at <= at) ?? glimpses[0]!;
  useEffect(() => {
    let left = false;
    void createImageBitmap(glimpse.picture).then((picture) => {
      const to = canvas.current;
      if (!left && to) {
        Object.assign(to, { width: picture.width, height: picture.height });
        to.getContext("2d")?.drawImage(picture, 0, 0);
      }
      picture.close();
    });
    return () => {
      left = true;
    };
  }, [glimpse]);
  return (
    <Box
      component="canvas"
      ref={canvas}
      role="img"
      aria-label={`What was seen at ${formatClock(glimpse.at)}`}
      sx={{ width: "100%", maxHeight: 220, objectFit: "contain", bgcolor: "bar.main", display: "block" }}
    />
  );
}
