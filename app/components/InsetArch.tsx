import Box from "@mui/material/Box";
import { useRef, type PointerEvent, type ReactNode } from "react";
import { insetRect, nearestCorner, type Corner, type Inset } from "#core/layout/layout";
import { archRadius } from "./Arch";

interface Props {
  /** shape of the frame it sits in; only the ratio matters */
  frame: { width: number; height: number };
  inset: Inset;
  /** given when it may be dragged: the corner it was dropped nearest to */
  onDrop?: (corner: Corner) => void;
  children: ReactNode;
}

/** The camera picture in its arch, at its place over a frame. */
export function InsetArch({ frame, inset, onDrop, children }: Props) {
  const start = useRef<{ x: number; y: number } | null>(null);
  const { x, y, width, height } = insetRect(frame, inset);
  const percent = (part: number, of: number) => `${(100 * part) / of}%`;

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
      style={{
        left: percent(x, frame.width),
        top: percent(y, frame.height),
        width: percent(width, frame.width),
        height: percent(height, frame.height),
      }}
      sx={{
        position: "absolute",
        overflow: "hidden",
        borderRadius: archRadius,
        bgcolor: "bar.main",
        zIndex: 2,
        display: inset.shown ? "block" : "none",
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
