import Create from "@mui/icons-material/Create";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useSyncExternalStore } from "react";
import type { Recorder } from "#capture/recorder";
import { MOST_MARKS } from "#core/layout/mark";
import { PenChoices } from "../components/PenChoices";
import { SelectField } from "../components/SelectField";
import { pen, usePen, type Stays } from "./pen";

const STAYS_NAMES: Record<Stays, string> = {
  cleared: "Until cleared",
  "3": "For 3 seconds",
  "5": "For 5 seconds",
  "10": "For 10 seconds",
};

/** Drawing on the picture: on or off, with what, and away with it. */
export function DrawBar({ recorder }: { recorder: Recorder }) {
  const { drawing, tool, colour, stays } = usePen();
  const { full } = useSyncExternalStore(recorder.entries.subscribe, recorder.entries.snapshot);
  return (
    <Box role="group" aria-label="Drawing" sx={{ display: "flex", gap: 1, flexWrap: "wrap", alignItems: "center" }}>
      <Button
        variant={drawing ? "contained" : "outlined"}
        aria-pressed={drawing}
        startIcon={<Create />}
        onClick={() => pen.change({ drawing: !drawing })}
      >
        {drawing ? "Stop drawing" : "Draw"}
      </Button>
      {drawing && (
        <>
          <PenChoices tool={tool} colour={colour} onChange={(change) => pen.change(change)} />
          <SelectField
            label="A mark stays"
            value={stays}
            names={STAYS_NAMES}
            onChoose={(next) => pen.change({ stays: next })}
            minWidth={140}
          />
          {full && <span role="status">This take has its {MOST_MARKS} marks: no more can be drawn in it.</span>}
          <Button onClick={() => recorder.entries.undo()}>Undo</Button>
          <Button onClick={() => recorder.entries.clear()}>Clear</Button>
        </>
      )}
    </Box>
  );
}
