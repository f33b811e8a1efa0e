import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useSyncExternalStore } from "react";
import type { Recorder } from "#capture/recorder";
import { formatClock } from "#core/time/micros";

const MARKED = { mistake: "Marked", still: "A picture to save", "backed-up": "Gone back" } as const;

/** One press says of this moment that something went wrong, or that its picture is wanted. It is found again after. */
export function NoteButtons({ recorder }: { recorder: Recorder }) {
  const { notes } = useSyncExternalStore(recorder.entries.subscribe, recorder.entries.snapshot);
  const last = notes.findLast(({ body }) => body.what !== "point");
  const note = (what: keyof typeof MARKED) => () => recorder.entries.note({ what, text: "" });
  return (
    <Box sx={{ display: "grid", gap: 0.5 }}>
      <Box sx={{ display: "flex", gap: 1, "& button": { flex: 1, whiteSpace: "nowrap" } }}>
        <Button variant="outlined" onClick={note("mistake")}>
          That went wrong
        </Button>
        {recorder.hasPicture && (
          <Button variant="outlined" onClick={note("still")}>
            Save a picture
          </Button>
        )}
      </Box>
      <Box role="status" sx={{ minHeight: last ? 24 : 0, fontSize: "0.9rem" }}>
        {last && (
          <>
            {MARKED[last.body.what as keyof typeof MARKED]} at {formatClock(last.at)}
            {last.body.since !== undefined && `, to ${formatClock(last.body.since)}`}.{" "}
            <Button
              size="small"
              onClick={() => recorder.entries.takeBack(last.id)}
              sx={{ minHeight: 24, py: 0, minWidth: 0 }}
            >
              Take it back
            </Button>
          </>
        )}
      </Box>
    </Box>
  );
}
