import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import Radio from "@mui/material/Radio";
import RadioGroup from "@mui/material/RadioGroup";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useRevalidator } from "react-router";
import type { Bringable } from "#server/editing/bring-in";
import { formatClock, type Micros } from "#core/time/micros";
import { Poster } from "../components/Poster";
import { When } from "../components/When";
import type { EditSession } from "./session";

interface Props {
  id: string;
  session: EditSession;
  /** where playing stands, in the time of what is shown */
  now: Micros;
  onClose: () => void;
}

const REST_MS = 250;
const UNREACHED = "There is no connection. Nothing was brought in.";

/** Another recording of one's own, chosen to be shown in this one: at the end, or where playing stands. */
export function BringInDialog({ id, session, now, onClose }: Props) {
  const [words, setWords] = useState("");
  const [choices, setChoices] = useState<Bringable[] | null>(null);
  const [from, setFrom] = useState<string | null>(null);
  const [place, setPlace] = useState<"end" | "here">("end");
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const { revalidate } = useRevalidator();
  useEffect(() => {
    const left = new AbortController();
    const look = async () => {
      try {
        const answer = await fetch(`/recordings/${id}/bring-in?q=${encodeURIComponent(words)}`, {
          signal: left.signal,
        });
        if (!answer.ok) return setProblem("Your recordings cannot be listed now. Try again.");
        const found = ((await answer.json()) as { choices: Bringable[] }).choices;
        setProblem(null);
        setChoices(found);
        setFrom((before) => (found.some((one) => one.id === before) ? before : null));
      } catch {
        if (!left.signal.aborted) setProblem("There is no connection. Your recordings cannot be listed.");
      }
    };
    const timer = setTimeout(() => void look(), words === "" ? 0 : REST_MS);
    return () => {
      clearTimeout(timer);
      left.abort();
    };
  }, [id, words]);

  const bring = async (chosen: string) => {
    setBusy(true);
    setProblem(null);
    const why = await bringIn({ id, session, from: chosen, at: place === "here" ? now : null });
    if (why === null) return void revalidate();
    setProblem(why);
    setBusy(false);
  };
  return (
    <Dialog open onClose={busy ? undefined : onClose} maxWidth="sm" fullWidth>
      <DialogTitle>Bring in another recording</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 1.5, "&&": { pt: 1 } }}>
        <Typography variant="body2">
          What it shows is added to this edit. Nobody sees it here before you publish, and the other recording stays as
          it is.
        </Typography>
        <TextField
          label="Search your recordings"
          size="small"
          type="search"
          value={words}
          onChange={(event) => setWords(event.target.value)}
          disabled={busy}
          slotProps={{ htmlInput: { maxLength: 200 } }}
        />
        {choices === null && problem === null && <Typography role="status">Looking.</Typography>}
        {choices?.length === 0 && (
          <Typography role="status">
            {words === "" ? "You have no other recording." : "None of your recordings has these words in its title."}
          </Typography>
        )}
        <Choices choices={choices ?? []} from={from} busy={busy} onFrom={setFrom} />
        <RadioGroup
          row
          aria-label="Where it comes"
          value={place}
          onChange={(_, value) => setPlace(value as typeof place)}
        >
          <FormControlLabel value="end" disabled={busy} control={<Radio size="small" />} label="At the end" />
          <FormControlLabel
            value="here"
            disabled={busy}
            control={<Radio size="small" />}
            label={`Where you are, at ${formatClock(now)}`}
          />
        </RadioGroup>
        {problem && (
          <Typography variant="body2" color="error" role="alert">
            {problem}
          </Typography>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose} disabled={busy}>
          Cancel
        </Button>
        <Button variant="contained" disabled={busy || from === null} onClick={() => from && void bring(from)}>
          {busy ? "Bringing it in" : "Bring it in"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

interface ChoicesProps {
  choices: readonly Bringable[];
  from: string | null;
  busy: boolean;
  onFrom: (id: string) => void;
}

function Choices({ choices, from, busy, onFrom }: ChoicesProps) {
  return (
    <RadioGroup
      aria-label="Your recordings"
      value={from}
      onChange={(_, value) => onFrom(value)}
      sx={{ flexWrap: "nowrap", maxHeight: "38vh", overflowY: "auto" }}
    >
      {choices.map(({ id, token, title, durationUs, createdAt, source, hasPoster }) => (
        <FormControlLabel
          key={id}
          value={id}
          disabled={busy}
          control={<Radio size="small" />}
          sx={{ mr: 0, borderTop: "1px solid", borderColor: "mist", "& > span:last-child": { flex: 1, minWidth: 0 } }}
          label={
            <Box sx={{ display: "flex", alignItems: "center", gap: 1, py: 0.5 }}>
              <Box sx={{ width: 72, flex: "none" }}>
                <Poster token={token} has={hasPoster} source={source} />
              </Box>
              <Box sx={{ flex: 1, minWidth: 0, overflowWrap: "anywhere" }}>
                {title}
                <Box sx={{ fontSize: 14, color: "text.secondary" }}>
                  {formatClock(durationUs)}, <When at={createdAt} />
                </Box>
              </Box>
            </Box>
          }
        />
      ))}
    </RadioGroup>
  );
}

interface Wish {
  id: string;
  session: EditSession;
  from: string;
  at: Micros | null;
}

/** @returns why it was not brought in; null where it was */
async function bringIn({ id, session, from, at }: Wish): Promise<string | null> {
  const version = await session.saved();
  if (version === null) return "This edit cannot be saved now, so nothing was brought in.";
  try {
    const answer = await fetch(`/recordings/${id}/bring-in`, {
      method: "POST",
      body: new URLSearchParams({ from, version: String(version), ...(at !== null && { at: String(at) }) }),
    });
    if (answer.ok) return null;
    return ((await answer.json()) as { error: string | null }).error ?? "The server did not take it.";
  } catch {
    return UNREACHED;
  }
}
