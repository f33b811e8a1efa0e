import Alert from "@mui/material/Alert";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Checkbox from "@mui/material/Checkbox";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import FormControlLabel from "@mui/material/FormControlLabel";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useRef, useState } from "react";
import { askProblem, type Ask, type AskKind, type NewAsk } from "#core/answers/kinds";
import { SelectField } from "../components/SelectField";
import { zoneHere } from "../components/zone";

const ASK_NAMES: Record<AskKind, string> = {
  nothing: "Nothing",
  nod: "A nod",
  choice: "A choice",
  words: "An answer in words",
};

/** What the sender asks, as it is being written. */
export type AskDraft = NewAsk;

export const noAsk = (): AskDraft => ({
  kind: "nothing",
  question: "",
  choices: ["", ""],
  due: null,
  zone: zoneHere(),
});

const draftOf = ({ kind, question, choices, due, reminds }: Ask): AskDraft =>
  kind === "nothing"
    ? noAsk()
    : { kind, question, choices: choices.length > 0 ? choices : ["", ""], due, zone: zoneHere(), reminds };

/** The fields of an ask. Choices grow as they are filled in, from two to five. */
export function AskFields({ ask, onChange }: { ask: AskDraft; onChange: (ask: AskDraft) => void }) {
  const change = (part: Partial<AskDraft>) => onChange({ ...ask, ...part });
  const filled = ask.choices.filter((c) => c.trim() !== "").length;
  const shown = Math.min(5, Math.max(2, filled + 1));
  return (
    <Box sx={{ display: "grid", gap: 1.5 }}>
      <SelectField
        label="What do you need back?"
        value={ask.kind}
        names={ASK_NAMES}
        onChoose={(kind) => change({ kind })}
      />
      {ask.kind !== "nothing" && (
        <>
          <TextField
            size="small"
            label={ask.kind === "nod" ? "Question (you may leave it out)" : "Question"}
            value={ask.question}
            multiline
            maxRows={3}
            onChange={(e) => change({ question: e.target.value })}
            slotProps={{ htmlInput: { maxLength: 300 } }}
          />
          {ask.kind === "choice" &&
            Array.from({ length: shown }, (_, i) => (
              <TextField
                key={i}
                size="small"
                label={`Choice ${i + 1}`}
                value={ask.choices[i] ?? ""}
                onChange={(e) =>
                  change({
                    choices: Array.from({ length: Math.max(shown, ask.choices.length) }, (_, k) =>
                      k === i ? e.target.value : (ask.choices[k] ?? ""),
                    ),
                  })
                }
                slotProps={{ htmlInput: { maxLength: 120 } }}
              />
            ))}
          {askProblem(ask) && <Typography variant="body2">{askProblem(ask)}</Typography>}
          <TextField
            size="small"
            type="date"
            label="Needed by (you may leave it out)"
            value={ask.due ?? ""}
            onChange={(e) => change({ due: e.target.value || null })}
            slotProps={{ inputLabel: { shrink: true } }}
          />
          {ask.due && (
            <FormControlLabel
              control={
                <Checkbox checked={ask.reminds ?? false} onChange={(e) => change({ reminds: e.target.checked })} />
              }
              label="Remind those who have not answered, the day before"
            />
          )}
        </>
      )}
    </Box>
  );
}

/** For the sender, under the title: asks, asks something else, closes. */
export function AskEditor({
  ask,
  onSave,
  onClose,
  busy,
  saved,
}: {
  ask: Ask;
  /** what came of saving or closing; null while nothing has */
  saved: { error: string | null } | null;
  /** @param version the edit that is replaced knowingly */
  onSave: (ask: AskDraft, version: number) => void;
  onClose: (closed: boolean) => void;
  busy: boolean;
}) {
  const [draft, setDraft] = useState<AskDraft | null>(null);
  /** the edit that the draft began with, or, once another one was told, that one */
  const [seen, setSeen] = useState(ask.edit);
  const [sent, setSent] = useState(false);
  const latest = useRef(ask.edit);
  latest.current = ask.edit;
  const leave = () => setDraft(null);
  // A draft that was refused stays, and can be sent again knowing of what was there.
  useEffect(() => {
    if (saved?.error === null) setDraft(null);
    else if (saved) setSeen(latest.current);
  }, [saved]);
  const begin = () => {
    setSeen(ask.edit);
    setSent(false);
    setDraft(draftOf(ask));
  };
  const asks = ask.kind !== "nothing";
  return (
    <>
      <Button onClick={begin}>{asks ? "Change what you ask" : "Ask for a nod or an answer"}</Button>
      {asks && (
        <Button onClick={() => onClose(!ask.closed)} disabled={busy}>
          {ask.closed ? "Open the question again" : "Close the question"}
        </Button>
      )}
      <Dialog open={draft !== null} onClose={leave} aria-labelledby="ask-title" fullWidth maxWidth="sm">
        {draft && (
          <Box
            component="form"
            aria-label="What you ask"
            onSubmit={(e) => {
              e.preventDefault();
              setSent(true);
              onSave(draft, seen);
            }}
          >
            <DialogTitle id="ask-title">What do you need back?</DialogTitle>
            <DialogContent sx={{ pt: "8px !important" }}>
              <AskFields ask={draft} onChange={setDraft} />
              {sent && saved?.error && (
                <Alert severity="error" role="alert" sx={{ mt: 2 }}>
                  {saved.error}
                </Alert>
              )}
            </DialogContent>
            <DialogActions>
              <Button onClick={leave}>Cancel</Button>
              <Button type="submit" variant="contained" disabled={busy || askProblem(draft) !== null}>
                {draft.kind === "nothing" ? "Ask nothing" : "Ask"}
              </Button>
            </DialogActions>
          </Box>
        )}
      </Dialog>
    </>
  );
}
