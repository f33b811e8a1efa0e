import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { AREA_SIZES, areaOf, cropOf, resized, withSide } from "#core/layout/area";
import type { Size } from "#core/layout/layout";
import { surfaceSize, type Quality } from "#core/media/quality";
import { SelectField } from "../components/SelectField";
import type { AreaDraft } from "./area";

const nameOf = ({ width, height }: Size) => `${width} × ${height}`;

/** What is recorded of a surface, in numbers: the same by keyboard as by dragging the frame. */
export function AreaPanel({ draft, quality }: { draft: AreaDraft; quality: Quality }) {
  const { surface, pixels, locked } = draft;
  const sizes = AREA_SIZES.filter(({ width, height }) => width <= surface.width && height <= surface.height);
  const now = nameOf(pixels);
  const area = areaOf(surface, pixels);
  const recorded = cropOf(surfaceSize(surface, area, quality), area);
  const side = (name: "width" | "height") => (value: number) => draft.settle(withSide(pixels, name, value, locked));
  return (
    <Box component="section" aria-labelledby="area" sx={{ display: "grid", gap: 2 }}>
      <Typography variant="h3" component="h2" id="area">
        What of it is recorded
      </Typography>
      <Typography variant="body2">
        Drag the frame, or its corners and sides. What lies outside is never recorded. Numbers are pixels of what you
        show, which has {nameOf(surface)}.
      </Typography>
      <SelectField
        label="Usual sizes"
        value={sizes.some((size) => nameOf(size) === now) ? now : ""}
        names={Object.fromEntries(sizes.map((size) => [nameOf(size), nameOf(size)]))}
        onChoose={(name) =>
          draft.settle(
            resized(
              pixels,
              sizes.find((size) => nameOf(size) === name)!,
            ),
          )
        }
      />
      <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5 }}>
        <Pixels label="Width" value={pixels.width} onGive={side("width")} />
        <Pixels label="Height" value={pixels.height} onGive={side("height")} />
        <Pixels label="From the left" value={pixels.x} onGive={(x) => draft.settle({ ...pixels, x })} />
        <Pixels label="From the top" value={pixels.y} onGive={(y) => draft.settle({ ...pixels, y })} />
      </Box>
      <FormControlLabel
        control={<Switch checked={locked} onChange={(_, next) => draft.lock(next)} />}
        label="Keep its shape"
      />
      <Typography variant="body2" role="status">
        {area ? "A part is recorded" : "All of it is recorded"}, as {nameOf(recorded)}.
      </Typography>
      <Box sx={{ display: "flex", gap: 1 }}>
        <Button variant="contained" onClick={draft.close} fullWidth>
          Done
        </Button>
        <Button fullWidth disabled={!area} onClick={() => draft.settle({ x: 0, y: 0, ...surface })}>
          All of it
        </Button>
      </Box>
    </Box>
  );
}

/** A number of pixels that is typed: taken when the field is left or Enter is pressed. */
function Pixels({ label, value, onGive }: { label: string; value: number; onGive: (value: number) => void }) {
  const shown = String(Math.round(value));
  const [text, setText] = useState(shown);
  useEffect(() => setText(shown), [shown]);
  const give = () => {
    const given = Number(text);
    if (text.trim() === "" || !Number.isInteger(given) || given < 0) return setText(shown);
    if (text === shown) return;
    onGive(given);
    // It may have been made even, or kept inside: then the field says what came of it.
    setText(shown);
  };
  return (
    <TextField
      size="small"
      label={label}
      value={text}
      onChange={(e) => setText(e.target.value)}
      onBlur={give}
      onKeyDown={(e) => e.key === "Enter" && give()}
      slotProps={{ htmlInput: { inputMode: "numeric", maxLength: 5 } }}
    />
  );
}
