import ZoomIn from "@mui/icons-material/ZoomIn";
import ZoomOut from "@mui/icons-material/ZoomOut";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import IconButton from "@mui/material/IconButton";
import Typography from "@mui/material/Typography";
import { spokenSeconds } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { EditDeeds } from "./keys";

interface Props {
  chosen: Range | null;
  /** all of it is left out; some of it is */
  isOut: boolean;
  touchesOut: boolean;
  deeds: EditDeeds;
  zoom: number;
  most: number;
  snaps: boolean;
  coming: boolean;
}

/** What can be done with the stretch that is chosen, and how the line is seen. */
export function LineBar({ chosen, isOut, touchesOut, deeds, zoom, most, snaps, coming }: Props) {
  const length = chosen ? chosen.to - chosen.from : 0;
  return (
    <Box
      sx={{
        display: "flex",
        flexWrap: "wrap",
        columnGap: 1,
        alignItems: "center",
        minHeight: 40,
        "& button": { minHeight: 32 },
      }}
    >
      {length > 0 && (
        <>
          <Typography variant="body2" role="status" className="clock" sx={{ minWidth: 96 }}>
            {spokenSeconds(length)} chosen
          </Typography>
          <Button size="small" variant="outlined" disabled={isOut} onClick={() => void deeds.leaveOut()}>
            Leave it out
          </Button>
          {touchesOut && (
            <Button size="small" variant="outlined" onClick={() => void deeds.putBack()}>
              Put it back
            </Button>
          )}
          <Button size="small" onClick={() => void deeds.around()}>
            Play around it
          </Button>
        </>
      )}
      <Button size="small" onClick={() => void deeds.from()}>
        From here
      </Button>
      <Button size="small" onClick={() => void deeds.to()}>
        Until here
      </Button>
      {length === 0 && (
        <Typography variant="body2" color="text.secondary" sx={{ display: { xs: "none", lg: "block" } }}>
          or drag along the line to choose a stretch
        </Typography>
      )}
      <Box sx={{ ml: "auto", display: "flex", gap: 0.5, alignItems: "center" }}>
        {coming && (
          <Typography variant="body2" role="status" color="text.secondary">
            Pictures and sound of the line are being made
          </Typography>
        )}
        <Button size="small" aria-pressed={snaps} onClick={() => void deeds.snap()}>
          {snaps ? "Stops at pauses" : "Stops at frames"}
        </Button>
        <IconButton size="small" aria-label="Narrower" disabled={zoom <= 1} onClick={() => void deeds.narrower()}>
          <ZoomOut fontSize="small" />
        </IconButton>
        <IconButton size="small" aria-label="Wider" disabled={zoom >= most} onClick={() => void deeds.wider()}>
          <ZoomIn fontSize="small" />
        </IconButton>
      </Box>
    </Box>
  );
}
