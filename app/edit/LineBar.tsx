import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { SECOND } from "#core/time/micros";
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
      {length > 0 ? (
        <>
          <Typography variant="body2" role="status" className="clock" sx={{ minWidth: 110 }}>
            {(length / SECOND).toFixed(1)} s chosen
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
      ) : (
        <Typography variant="body2" color="text.secondary">
          Drag along the line to choose a stretch, or press A where it begins and E where it ends.
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
        <Button size="small" disabled={zoom <= 1} onClick={() => void deeds.narrower()}>
          Narrower
        </Button>
        <Button size="small" disabled={zoom >= most} onClick={() => void deeds.wider()}>
          Wider
        </Button>
      </Box>
    </Box>
  );
}
