import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { History, Step } from "#core/recipe/history";
import type { Facet, Swap } from "#core/recipe/dress";
import { lengthOf } from "#core/recipe/edits";
import type { RecordedLine } from "#core/recipe/recorded-line";
import { formatClock, spokenSeconds } from "#core/time/micros";

interface Props {
  history: History;
  line: RecordedLine;
  canReset: boolean;
  onUndo: () => void;
  onRedo: () => void;
  onReset: () => void;
}

const SOUND_NAMES: Record<string, string> = { microphone: "Your voice", sound: "The computer's sound" };
/** Things that have a name of their own. */
const THING_NAMES: Record<string, string> = {
  opening: " at the beginning",
  closing: " at the end",
  screen: ": the screen",
  camera: ": the camera",
  in: " at the beginning",
  out: " at the end",
};
const FACET_NAMES: Record<Facet, string> = {
  gains: "Loudness",
  suppression: "Noise around the voice",
  louder: "Loudness of a stretch",
  scenes: "Layers",
  zooms: "Zoom",
  views: "Cut or turned",
  marks: "Drawn",
  cards: "Card",
  fades: "Fade",
  music: "Music",
};
/** The newest are looked at; all of them are kept. */
const SHOWN = 40;

/** What was done, newest first, and the way back. */
export function Steps({ history: { done, undone }, line, canReset, onUndo, onRedo, onReset }: Props) {
  const newest = done.slice(-SHOWN).reverse();
  return (
    <Box role="group" aria-label="What was done">
      <Box sx={{ display: "flex", gap: 1, alignItems: "center", mb: 0.5 }}>
        <Typography variant="h2" sx={{ fontSize: "1rem", mr: "auto" }}>
          What was done
        </Typography>
        <Button size="small" disabled={done.length === 0} onClick={onUndo}>
          Undo
        </Button>
        <Button size="small" disabled={undone.length === 0} onClick={onRedo}>
          Do it again
        </Button>
      </Box>
      <Box component="ol" sx={{ m: 0, p: 0, listStyle: "none", borderTop: "1px solid", borderColor: "mist" }}>
        {newest.map((step, i) => (
          <Box
            component="li"
            key={done.length - i}
            sx={{ py: 0.5, borderBottom: "1px solid", borderColor: "mist", fontSize: 14.5 }}
          >
            {wordsOf(step, line)}
          </Box>
        ))}
      </Box>
      {done.length === 0 && <Typography variant="body2">Nothing yet.</Typography>}
      {done.length > SHOWN && <Typography variant="body2">And {done.length - SHOWN} before.</Typography>}
      <Button size="small" disabled={!canReset} onClick={onReset} sx={{ mt: 1 }}>
        Back to what was recorded
      </Button>
    </Box>
  );
}

function wordsOf({ deed, change }: Step, line: RecordedLine): string {
  if (deed.do === "as-recorded") return "Everything as it was recorded";
  if (deed.do === "as-published") return `As version ${deed.revision} was published`;
  if (deed.do === "bring-in")
    return `Brought in ${formatClock(lengthOf(change.added) - lengthOf(change.removed))} of another`;
  if (deed.do === "only") return `Take ${deed.take} alone`;
  if (deed.do === "order") return `Takes in the order ${deed.takes.join(", ")}`;
  if (deed.do === "dress") return dressWords(deed.facet, change.swaps ?? [], line);
  const what = deed.do === "leave-out" ? "Left out" : "Put back";
  return `${what} ${spokenSeconds(deed.to - deed.from)} at ${formatClock(line.at(deed.from))}`;
}

/** What was put on, changed, or taken away; and where, if it is somewhere. */
function dressWords(facet: Facet, swaps: readonly Swap[], line: RecordedLine): string {
  const [first] = swaps;
  if (facet === "suppression") return `${FACET_NAMES[facet]} ${first?.after ? "taken out" : "as recorded"}`;
  if (facet === "gains" && first) {
    const decibels = (first.after ?? 0) as number;
    return `${SOUND_NAMES[first.id]}: ${decibels > 0 ? "+" : ""}${decibels} dB`;
  }
  const how = swaps.every(({ after }) => after === null)
    ? " taken away"
    : swaps.some(({ before }) => before !== null)
      ? " changed"
      : "";
  const thing = swaps.map(({ before, after }) => after ?? before).find((t) => typeof t === "object" && "from" in t!);
  const where = thing && typeof thing === "object" && "from" in thing ? ` at ${formatClock(line.at(thing.from))}` : "";
  return FACET_NAMES[facet] + ((first && THING_NAMES[first.id]) ?? "") + how + where;
}
