import BorderColor from "@mui/icons-material/BorderColor";
import Create from "@mui/icons-material/Create";
import CropSquare from "@mui/icons-material/CropSquare";
import Filter1 from "@mui/icons-material/Filter1";
import NorthEast from "@mui/icons-material/NorthEast";
import RadioButtonUnchecked from "@mui/icons-material/RadioButtonUnchecked";
import TextFields from "@mui/icons-material/TextFields";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useSyncExternalStore, type ComponentType } from "react";
import type { Recorder } from "#capture/recorder";
import { COLOUR_OF, MARK_COLOURS, MOST_MARKS, TOOLS, type MarkColour, type Tool } from "#core/layout/mark";
import { OneOf } from "../components/OneOf";
import { SelectField } from "../components/SelectField";
import { pen, usePen, type Stays } from "./pen";

const TOOL_LOOKS: Record<Tool, { name: string; Icon: ComponentType<{ fontSize: "small" }> }> = {
  pen: { name: "Pen", Icon: Create },
  highlighter: { name: "Highlighter", Icon: BorderColor },
  arrow: { name: "Arrow", Icon: NorthEast },
  box: { name: "Box", Icon: CropSquare },
  ellipse: { name: "Ellipse", Icon: RadioButtonUnchecked },
  number: { name: "Numbers", Icon: Filter1 },
  text: { name: "Text", Icon: TextFields },
};
const COLOUR_NAMES: Record<MarkColour, string> = { clay: "Clay", marigold: "Marigold", leaf: "Leaf", ink: "Ink" };
const TOOL_CHOICES = TOOLS.map((value) => {
  const { name, Icon } = TOOL_LOOKS[value];
  return { value, name, look: <Icon fontSize="small" /> };
});
const COLOUR_CHOICES = MARK_COLOURS.map((value) => ({
  value,
  name: COLOUR_NAMES[value],
  look: <Box sx={{ width: 18, height: 20, borderRadius: "9px 9px 0 0", bgcolor: COLOUR_OF[value] }} />,
}));
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
          <OneOf
            label="What to draw with"
            value={tool}
            choices={TOOL_CHOICES}
            onChoose={(next) => pen.change({ tool: next })}
            buttonSx={{ px: 1 }}
          />
          <OneOf
            label="Colour"
            value={colour}
            choices={COLOUR_CHOICES}
            onChoose={(next) => pen.change({ colour: next })}
            color="standard"
            buttonSx={{ px: 1 }}
          />
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
