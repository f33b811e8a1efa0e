import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useSyncExternalStore } from "react";
import type { Recorder } from "#capture/recorder";
import { formatClock } from "#core/time/micros";

/** One press says that something went wrong just now; afterwards it is found again. */
export function MistakeButton({ recorder }: { recorder: Recorder }) {
  const { notes } = useSyncExternalStore(recorder.entries.subscribe, recorder.entries.snapshot);
  const last = notes.findLast(({ body }) => body.what === "mistake");
  return (
    <Box sx={{ display: "grid", gap: 0.5 }}>
      <Button variant="outlined" onClick={() => recorder.entries.note({ what: "mistake", text: "" })}>
        That went wrong
      </Button>
      <Box role="status" sx={{ minHeight: last ? 24 : 0, fontSize: "0.9rem" }}>
        {last && (
          <>
            Marked at {formatClock(last.at)}.{" "}
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
