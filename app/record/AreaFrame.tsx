import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import ReactCrop, { type PercentCrop } from "react-image-crop";
import "react-image-crop/dist/ReactCrop.css";
import { AREA_LABELS, AREA_LOOKS } from "../components/area-looks";
import type { AreaDraft } from "./area";

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
        ...AREA_LOOKS,
      }}
    >
      <ReactCrop
        keepSelection
        ariaLabels={AREA_LABELS}
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
