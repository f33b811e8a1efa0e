import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import type { Deed, History } from "#core/recipe/history";
import type { RecordedLine } from "#core/recipe/recorded-line";
import { formatClock, SECOND } from "#core/time/micros";

interface Props {
  history: History;
  line: RecordedLine;
  canReset: boolean;
  onUndo: () => void;
  onRedo: () => void;
  onReset: () => void;
}

const SOUND_NAMES = { microphone: "Your voice", sound: "The computer's sound" };
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
        {newest.map(({ deed }, i) => (
          <Box
            component="li"
            key={done.length - i}
            sx={{ py: 0.5, borderBottom: "1px solid", borderColor: "mist", fontSize: 14.5 }}
          >
            {wordsOf(deed, line)}
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

function wordsOf(deed: Deed, line: RecordedLine): string {
  if (deed.do === "as-recorded") return "Everything as it was recorded";
  if (deed.do === "only") return `Take ${deed.take} alone`;
  if (deed.do === "order") return `Takes in the order ${deed.takes.join(", ")}`;
  if (deed.do === "gain") return `${SOUND_NAMES[deed.track]}: ${deed.decibels > 0 ? "+" : ""}${deed.decibels} dB`;
  const what = deed.do === "leave-out" ? "Left out" : "Put back";
  return `${what} ${((deed.to - deed.from) / SECOND).toFixed(1)} s at ${formatClock(line.at(deed.from))}`;
}
