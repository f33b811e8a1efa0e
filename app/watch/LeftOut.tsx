import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { formatClock, spokenLength, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Cutting } from "#core/recipe/history";

interface Props {
  /** stretches of the source line, and where each would be shown */
  out: readonly (Range & { at: Micros })[];
  busy: boolean;
  onChange: (deed: Cutting) => void;
}

/** What is left out, and the way back. */
export function LeftOut({ out, busy, onChange }: Props) {
  const [open, setOpen] = useState(false);
  useEffect(() => {
    if (out.length === 0) setOpen(false);
  }, [out]);
  const length = out.reduce((sum, { from, to }) => sum + to - from, 0);
  return (
    <Typography variant="body2" component="div">
      <Button size="small" onClick={() => setOpen(true)} sx={{ minHeight: 24, py: 0, px: 0 }}>
        Left out: {out.length === 1 ? "1 stretch" : `${out.length} stretches`}, {formatClock(length)}
      </Button>
      <Dialog open={open} fullWidth maxWidth="xs" onClose={() => setOpen(false)} aria-labelledby="left-out">
        <DialogTitle id="left-out">What is left out</DialogTitle>
        <DialogContent>
          <Box component="ol" sx={{ m: 0, p: 0, listStyle: "none", borderTop: "1px solid", borderColor: "mist" }}>
            {out.map(({ from, to, at }) => (
              <Box
                component="li"
                key={from}
                sx={{ display: "flex", alignItems: "center", gap: 1, borderBottom: "1px solid", borderColor: "mist" }}
              >
                <Box component="span" sx={{ flex: 1 }}>
                  <span className="clock">{formatClock(to - from)}</span> at{" "}
                  <span className="clock">{formatClock(at)}</span>
                </Box>
                <Button
                  size="small"
                  disabled={busy}
                  aria-label={`Put back ${spokenLength(to - from)} at ${spokenLength(at)}`}
                  onClick={() => onChange({ do: "put-back", from, to })}
                >
                  Put it back
                </Button>
              </Box>
            ))}
          </Box>
          <Typography variant="body2" sx={{ mt: 2 }}>
            Nobody but you can reach it. Comments that were made there come back with it.
          </Typography>
        </DialogContent>
        <DialogActions>
          <Button disabled={busy} onClick={() => onChange({ do: "as-recorded" })}>
            Show all, as it was recorded
          </Button>
          <Button variant="contained" onClick={() => setOpen(false)}>
            Done
          </Button>
        </DialogActions>
      </Dialog>
    </Typography>
  );
}
