import Box from "@mui/material/Box";
import { useRef, type PointerEvent, type ReactNode } from "react";
import { nearestCorner, type Corner, type Rect } from "#core/layout/layout";
import { archRadius } from "./Arch";
import { placeStyle } from "./place";

interface Props {
  /** its place, in shares of the frame that it sits in; null while it is not seen */
  rect: Rect | null;
  /** given when it may be dragged: the corner it was dropped nearest to */
  onDrop?: (corner: Corner) => void;
  children: ReactNode;
}

/** The camera picture in its arch, at its place over a frame. */
export function InsetArch({ rect, onDrop, children }: Props) {
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
    onDrop?.(nearestCorner(parent, box.x + box.width / 2 - parent.x, box.y + box.height / 2 - parent.y));
  };
  return (
    <Box
      data-testid="inset"
      onPointerDown={(event: PointerEvent<HTMLElement>) => {
        if (!onDrop || event.button !== 0) return;
        start.current = { x: event.clientX, y: event.clientY };
        event.currentTarget.setPointerCapture(event.pointerId);
      }}
      onPointerMove={move}
      onPointerUp={drop}
      onPointerCancel={drop}
      style={rect ? placeStyle(rect) : { display: "none" }}
      sx={{
        position: "absolute",
        overflow: "hidden",
        borderRadius: archRadius,
        bgcolor: "bar.main",
        zIndex: 2,
        outline: "1px solid rgba(247,245,239,.7)",
        cursor: onDrop ? "grab" : "default",
        touchAction: onDrop ? "none" : "auto",
        "& video": { width: "100%", height: "100%", objectFit: "cover", display: "block", pointerEvents: "none" },
      }}
    >
      {children}
    </Box>
  );
}
