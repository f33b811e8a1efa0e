import Box from "@mui/material/Box";
import { useRef, type PointerEvent, type ReactNode } from "react";
import { nearestPlace, type Place } from "#core/layout/layout";
import type { SceneLayer } from "#core/layout/scene";
import { archRadius } from "./Arch";
import { layerStyle, useLastSeen } from "./place";

interface Props {
  /** where it is in the frame; null while it is not seen */
  layer: SceneLayer | null;
  /** how long it takes to come to another place, in ms; 0 for at once */
  fade?: number;
  /** given when it may be dragged: the place it was dropped nearest to */
  onDrop?: (place: Place) => void;
  children: ReactNode;
}

/** The camera picture in its place in a frame: in its arch, or alone and whole. */
export function InsetArch({ layer, fade = 0, onDrop, children }: Props) {
  const last = useLastSeen(layer);
  const isInset = last?.shape !== "rectangle";
  const start = useRef<{ x: number; y: number } | null>(null);

  const move = (event: PointerEvent<HTMLElement>) => {
    if (start.current)
      event.currentTarget.style.transform = `translate(${event.clientX - start.current.x}px, ${event.clientY - start.current.y}px)`;
  };
  const drop = (event: PointerEvent<HTMLElement>) => {
    if (!start.current) return;
    start.current = null;
    const parent = event.currentTarget.offsetParent!.getBoundingClientRect();
    const box = event.currentTarget.getBoundingClientRect();
    event.currentTarget.style.transform = "";
    onDrop?.(nearestPlace(parent, box.x + box.width / 2 - parent.x, box.y + box.height / 2 - parent.y));
  };
  return (
    <Box
      data-testid="inset"
      onPointerDown={(event: PointerEvent<HTMLElement>) => {
        if (!onDrop || !isInset || event.button !== 0) return;
        start.current = { x: event.clientX, y: event.clientY };
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={move}
      onPointerUp={drop}
      onPointerCancel={drop}
      data-shape={last?.shape}
      style={layerStyle(layer, fade, last)}
      sx={{
        position: "absolute",
        overflow: "hidden",
        borderRadius: isInset && last?.shape !== "tile" ? archRadius : 0,
        bgcolor: "bar.main",
        zIndex: 2,
        outline: isInset ? "1px solid rgba(247,245,239,.7)" : "none",
        cursor: onDrop && isInset ? "grab" : "default",
        touchAction: onDrop && isInset ? "none" : "auto",
        "& video": {
          width: "100%",
          height: "100%",
          objectFit: isInset ? "cover" : "contain",
          display: "block",
          pointerEvents: "none",
        },
      }}
    >
      {children}
    </Box>
  );
}
