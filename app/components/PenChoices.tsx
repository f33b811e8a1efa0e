import BorderColor from "@mui/icons-material/BorderColor";
import Create from "@mui/icons-material/Create";
import CropSquare from "@mui/icons-material/CropSquare";
import Filter1 from "@mui/icons-material/Filter1";
import NorthEast from "@mui/icons-material/NorthEast";
import RadioButtonUnchecked from "@mui/icons-material/RadioButtonUnchecked";
import TextFields from "@mui/icons-material/TextFields";
import Box from "@mui/material/Box";
import type { ComponentType } from "react";
import { COLOUR_OF, MARK_COLOURS, TOOLS, type MarkColour, type Tool } from "#core/layout/mark";
import { OneOf } from "./OneOf";

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

interface Props {
  tool: Tool;
  colour: MarkColour;
  onChange: (change: { tool: Tool } | { colour: MarkColour }) => void;
}

/** What to draw with, and in which colour. */
export function PenChoices({ tool, colour, onChange }: Props) {
  return (
    <>
      <OneOf
        label="What to draw with"
        value={tool}
        choices={TOOL_CHOICES}
        onChoose={(next) => onChange({ tool: next })}
        buttonSx={{ px: 1 }}
      />
      <OneOf
        label="Colour"
        value={colour}
        choices={COLOUR_CHOICES}
        onChoose={(next) => onChange({ colour: next })}
        color="standard"
        buttonSx={{ px: 1 }}
      />
    </>
  );
}
