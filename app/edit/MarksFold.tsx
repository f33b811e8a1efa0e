import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { MOST_PUT_ON, type Mark } from "#core/layout/mark";
import type { Dress, Put } from "#core/recipe/dress";
import type { RecordedLine } from "#core/recipe/recorded-line";
import { formatClock, SECOND, spokenLength, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Picture } from "#server/editing/pictures";
import { Folded } from "../components/Folded";
import { PenChoices } from "../components/PenChoices";
import { pen, usePen } from "../record/pen";
import { PictureButton } from "../components/PictureButton";

interface Props {
  id: string;
  marks: Dress["marks"];
  line: RecordedLine;
  drawing: boolean;
  /** the stretch that is chosen, in recorded time */
  chosen: Range | null;
  now: () => Micros;
  /** what is drawn with the next stroke: a picture, or what the pen is set to */
  putting: Picture | null;
  onDrawing: (drawing: boolean) => void;
  onPutting: (picture: Picture | null) => void;
  onPut: (puts: Put[]) => void;
  onSeek: (recorded: Micros) => void;
}

/** How long a mark stays where no stretch is chosen. */
export const STAYS: Micros = 4 * SECOND;

/** What is drawn on the picture while editing, and from when to when each mark is seen. */
export function MarksFold({ marks = {}, line, drawing, chosen, now, putting, ...on }: Props) {
  const { tool, colour } = usePen();
  const { id: recording, onDrawing, onPutting, onPut, onSeek } = on;
  const all = Object.entries(marks).sort(([, a], [, b]) => a.from - b.from);
  const full = all.length >= MOST_PUT_ON;
  const lasts = chosen
    ? `seen from ${formatClock(chosen.from)} to ${formatClock(chosen.to)}, the stretch that is chosen`
    : `seen for ${STAYS / SECOND} s from where the picture stands`;
  const moved = (id: string, from: Micros, to: Micros, mark: Mark) =>
    to > from && onPut([{ facet: "marks", id, value: { from, to, mark } }]);
  return (
    <Folded later title="Drawn on it" value={all.length === 0 ? "nothing" : String(all.length)}>
      <Button
        variant={drawing ? "contained" : "outlined"}
        size="small"
        aria-pressed={drawing}
        disabled={full && !drawing}
        onClick={() => onDrawing(!drawing)}
        sx={{ justifySelf: "start" }}
      >
        {drawing ? "Stop drawing" : "Draw on the picture"}
      </Button>
      <PictureButton
        to={`/recordings/${recording}/pictures/new`}
        label="Put a picture on"
        disabled={full}
        onTaken={onPutting}
      />
      {putting && (
        <Box role="status" sx={{ display: "flex", gap: 1, alignItems: "center", fontSize: 14.5 }}>
          Drag on the picture where it is to be, as wide as it is to be.
          <Button size="small" onClick={() => onPutting(null)}>
            Cancel
          </Button>
        </Box>
      )}
      {full && <Typography variant="body2">There are {MOST_PUT_ON} marks: no more can be drawn.</Typography>}
      {drawing && (
        <>
          <PenChoices tool={tool} colour={colour} onChange={(change) => pen.change(change)} />
          <Typography variant="body2" role="status">
            What you draw is {lasts}.
          </Typography>
        </>
      )}
      {all.length > 0 && (
        <Box component="ol" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 0.5 }}>
          {all.map(([id, { from, to, mark }]) => (
            <Box
              component="li"
              key={id}
              sx={{ display: "flex", flexWrap: "wrap", alignItems: "center", columnGap: 0.5, "& button": { px: 0.5 } }}
            >
              <Button
                size="small"
                className="clock"
                aria-label={`Go to ${nameOf(mark)} at ${spokenLength(line.at(from))}`}
                onClick={() => onSeek(line.at(from))}
              >
                {formatClock(line.at(from))}–{formatClock(line.at(from) + to - from)}
              </Button>
              <Box component="span" sx={{ flex: "1 0 60%", overflowWrap: "anywhere" }}>
                {nameOf(mark)}
              </Box>
              <Button size="small" onClick={() => moved(id, now(), to, mark)}>
                From here
              </Button>
              <Button size="small" onClick={() => moved(id, from, now(), mark)}>
                Until here
              </Button>
              <Button
                size="small"
                aria-label={`Take ${nameOf(mark)} away`}
                onClick={() => onPut([{ facet: "marks", id, value: null }])}
              >
                Take away
              </Button>
            </Box>
          ))}
        </Box>
      )}
    </Folded>
  );
}

const TOOL_WORDS: Record<Mark["tool"], string> = {
  pen: "a line",
  highlighter: "a highlighted line",
  arrow: "an arrow",
  box: "a box",
  ellipse: "an ellipse",
  number: "number",
  text: "",
  picture: "a picture",
};
const nameOf = ({ tool, text }: Mark) =>
  tool === "picture" ? TOOL_WORDS[tool] : [TOOL_WORDS[tool], tool === "text" ? `“${text}”` : text].join(" ").trim();
