import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import type { Corner, Inset, InsetSize } from "#core/layout/layout";
import { SelectField } from "../components/SelectField";

const CORNER_NAMES: Record<Corner, string> = {
  "bottom-right": "Bottom right",
  "bottom-left": "Bottom left",
  "top-right": "Top right",
  "top-left": "Top left",
};
const SIZE_NAMES: Record<InsetSize, string> = { small: "Small", medium: "Medium", large: "Large" };

/** Where the camera picture sits: the same by keyboard as by dragging. */
export function Arrange({ inset, onArrange }: { inset: Inset; onArrange: (change: Partial<Inset>) => void }) {
  return (
    <Box
      role="group"
      aria-label="Camera picture"
      sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}
    >
      <SelectField
        label="Corner"
        value={inset.corner}
        names={CORNER_NAMES}
        onChoose={(corner) => onArrange({ corner })}
        disabled={!inset.shown}
        minWidth={140}
      />
      <SelectField
        label="Size"
        value={inset.size}
        names={SIZE_NAMES}
        onChoose={(size) => onArrange({ size })}
        disabled={!inset.shown}
        minWidth={110}
      />
      <Button variant="outlined" aria-pressed={!inset.shown} onClick={() => onArrange({ shown: !inset.shown })}>
        {inset.shown ? "Hide my picture" : "Show my picture"}
      </Button>
    </Box>
  );
}
