import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import MenuItem from "@mui/material/MenuItem";
import TextField from "@mui/material/TextField";
import type { Corner, Inset, InsetSize } from "#core/layout/layout";

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
      <TextField
        select
        size="small"
        label="Corner"
        value={inset.corner}
        onChange={(e) => onArrange({ corner: e.target.value as Corner })}
        disabled={!inset.shown}
        sx={{ minWidth: 140 }}
      >
        {Object.entries(CORNER_NAMES).map(([value, name]) => (
          <MenuItem key={value} value={value}>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <TextField
        select
        size="small"
        label="Size"
        value={inset.size}
        onChange={(e) => onArrange({ size: e.target.value as InsetSize })}
        disabled={!inset.shown}
        sx={{ minWidth: 110 }}
      >
        {Object.entries(SIZE_NAMES).map(([value, name]) => (
          <MenuItem key={value} value={value}>
            {name}
          </MenuItem>
        ))}
      </TextField>
      <Button variant="outlined" aria-pressed={!inset.shown} onClick={() => onArrange({ shown: !inset.shown })}>
        {inset.shown ? "Hide my picture" : "Show my picture"}
      </Button>
    </Box>
  );
}
