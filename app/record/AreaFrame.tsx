import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import ReactCrop, { type PercentCrop } from "react-image-crop";
import "react-image-crop/dist/ReactCrop.css";
import type { AreaDraft } from "./area";

const LABELS = {
  cropArea: "The area. Arrow keys move it, with Shift ten at a time.",
  nwDragHandle: "Top left corner",
  nDragHandle: "Top side",
  neDragHandle: "Top right corner",
  eDragHandle: "Right side",
  seDragHandle: "Bottom right corner",
  sDragHandle: "Bottom side",
  swDragHandle: "Bottom left corner",
  wDragHandle: "Left side",
};

/** A frame over the whole surface, to be dragged or moved by keys: what is in it is recorded. */
export function AreaFrame({ draft, children }: { draft: AreaDraft; children: ReactNode }) {
  const { surface, pixels, locked } = draft;
  const inPixels = ({ x, y, width, height }: PercentCrop) => ({
    x: (x * surface.width) / 100,
    y: (y * surface.height) / 100,
    width: (width * surface.width) / 100,
    height: (height * surface.height) / 100,
  });
  return (
    <Box
      sx={{
        width: 1,
        height: 1,
        "--rc-drag-handle-size": "16px",
        "--rc-drag-handle-bg-colour": "var(--mui-palette-marigold-main)",
        "--rc-border-color": "var(--mui-palette-bar-main)",
        "--rc-focus-color": "var(--mui-palette-marigold-main)",
        "& .ReactCrop, & .ReactCrop__child-wrapper": { width: 1, height: 1 },
        "& .ReactCrop__crop-selection, & .ReactCrop__crop-selection:not(.ReactCrop--no-animate *)": {
          animation: "none",
          backgroundImage: "none",
          outline: "2px solid var(--mui-palette-marigold-main)",
          boxShadow: "0 0 0 3px rgba(10,20,18,.7)",
        },
      }}
    >
      <ReactCrop
        keepSelection
        ariaLabels={LABELS}
        aspect={locked ? pixels.width / pixels.height : undefined}
        crop={{
          unit: "%",
          x: (100 * pixels.x) / surface.width,
          y: (100 * pixels.y) / surface.height,
          width: (100 * pixels.width) / surface.width,
          height: (100 * pixels.height) / surface.height,
        }}
        minWidth={8}
        minHeight={8}
        onChange={(_, crop) => draft.show(inPixels(crop))}
        onComplete={(_, crop) => crop.width > 0 && draft.settle(inPixels(crop))}
      >
        {children}
      </ReactCrop>
    </Box>
  );
}
