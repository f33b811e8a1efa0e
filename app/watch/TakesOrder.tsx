import Button from "@mui/material/Button";
import Box from "@mui/material/Box";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import { formatClock, type Micros } from "#core/time/micros";

interface Props {
  id: string;
  /** the revision that shows them so */
  revision: number;
  /** in the order in which they are shown */
  takes: readonly { position: number; length: Micros }[];
}

/** For the presenter alone: which of several takes is seen first. */
export function TakesOrder({ id, revision, takes }: Props) {
  const [open, setOpen] = useState(false);
  if (takes.length < 2) return null;
  return (
    <Typography variant="body2" component="div">
      <Button size="small" onClick={() => setOpen(true)} sx={{ minHeight: 24, py: 0, px: 0 }}>
        {takes.length} takes: their order
      </Button>
      {open && <Order id={id} revision={revision} takes={takes} onClose={() => setOpen(false)} />}
    </Typography>
  );
}

function Order({ id, revision, takes, onClose }: Props & { onClose: () => void }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const [order, setOrder] = useState(() => takes.map(({ position }) => position));
  const [told, setTold] = useState("");
  const done = fetcher.state === "idle" && fetcher.data?.error === null;
  useEffect(() => {
    if (done) onClose();
  }, [done, onClose]);
  const changed = order.some((position, i) => position !== takes[i]!.position);
  const move = (place: number, by: 1 | -1) => {
    const next = [...order];
    [next[place], next[place + by]] = [next[place + by]!, next[place]!];
    setOrder(next);
    setTold(`Take ${order[place]} is at place ${place + by + 1} of ${order.length}`);
  };
  const save = () =>
    void fetcher.submit(
      { do: "reorder", takes: JSON.stringify(order), seen: String(revision) },
      { method: "post", action: `/recordings/${id}` },
    );
  return (
    <Dialog open fullWidth maxWidth="xs" onClose={onClose} aria-labelledby="order-of-takes">
      <DialogTitle id="order-of-takes">The order of the takes</DialogTitle>
      <DialogContent>
        <Box component="ol" sx={{ m: 0, p: 0, listStyle: "none", borderTop: "1px solid", borderColor: "mist" }}>
          {order.map((position, place) => (
            <Box
              component="li"
              key={position}
              sx={{ display: "flex", alignItems: "center", gap: 1, borderBottom: "1px solid", borderColor: "mist" }}
            >
              <Box component="span" sx={{ flex: 1 }}>
                Take {position}{" "}
                <span className="clock">{formatClock(takes.find((t) => t.position === position)!.length)}</span>
              </Box>
              <Button
                size="small"
                disabled={place === 0}
                aria-label={`Take ${position} earlier`}
                onClick={() => move(place, -1)}
              >
                Earlier
              </Button>
              <Button
                size="small"
                disabled={place === order.length - 1}
                aria-label={`Take ${position} later`}
                onClick={() => move(place, 1)}
              >
                Later
              </Button>
            </Box>
          ))}
        </Box>
        <Box role="status" sx={{ position: "absolute", left: -9999 }}>
          {told}
        </Box>
        <Typography variant="body2" sx={{ mt: 2 }}>
          Whoever has it open goes on where they are. Comments and answers stay with what they are about.
        </Typography>
        {fetcher.data?.error && (
          <Typography role="alert" color="error" sx={{ mt: 1 }}>
            {fetcher.data.error}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Leave it</Button>
        <Button variant="contained" disabled={!changed || fetcher.state !== "idle"} onClick={save}>
          Show them so
        </Button>
      </DialogActions>
    </Dialog>
  );
}
