import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";

/** Something that was to be recorded does not deliver: one sentence, and the way on without it. */
export interface Doubt {
  what: string;
  goOn: string;
}

/** What is shown: nothing is to be, nothing is chosen yet, or it is there. */
export type Shown = "unneeded" | "unchosen" | "chosen";

interface Props {
  disabled: boolean;
  shown: Shown;
  /** choosing and recording are one press */
  atOnce: boolean;
  /** the browser's own window is open */
  asking: boolean;
  /** when it starts by itself, `14:30`; "" for by this press */
  clock: string;
  doubt: Doubt | null;
  /** the doubt is being asked about */
  asked: boolean;
  onAsked: (asked: boolean) => void;
  onChoose: () => void;
  onRelease: () => void;
  /** only a part of what is shown is to be recorded; null where that cannot be chosen */
  onArea: (() => void) | null;
  /** that is being chosen now */
  choosingArea: boolean;
  onRecord: () => void;
}

/** Choosing what to show, then Record; where something that was chosen does not deliver, it asks first. */
export function RecordButton({
  disabled,
  shown,
  atOnce,
  asking,
  clock,
  doubt,
  asked,
  onAsked,
  onChoose,
  onRelease,
  onRecord,
  ...area
}: Props) {
  const choosing = shown === "unchosen" && !atOnce;
  if (asked && doubt && !asking && !choosing) {
    return (
      <Box
        role="alertdialog"
        aria-label="Before recording"
        aria-describedby="doubt"
        sx={{ border: "2px solid", borderColor: "clay.main", p: 2, display: "grid", gap: 1.5 }}
      >
        <Typography id="doubt">{doubt.what}</Typography>
        <Button variant="contained" size="large" autoFocus onClick={() => onAsked(false)}>
          Let me see to it
        </Button>
        <Button
          color="clay"
          onClick={() => {
            onAsked(false);
            onRecord();
          }}
        >
          {doubt.goOn}
        </Button>
      </Box>
    );
  }
  if (asking || choosing) {
    return (
      <Button
        variant="contained"
        size="large"
        fullWidth
        disabled={disabled || asking}
        onClick={onChoose}
        sx={{ minHeight: 56 }}
      >
        {asking ? "Choose in the browser's window" : "Choose what to show"}
      </Button>
    );
  }
  return (
    <Box sx={{ display: "grid", gap: 1 }}>
      <Button
        variant="contained"
        size="large"
        fullWidth
        color="clay"
        disabled={disabled}
        onClick={doubt ? () => onAsked(true) : onRecord}
        sx={{ minHeight: 56 }}
      >
        {clock ? `Start at ${clock}` : shown === "unchosen" ? "Choose and record" : "Record"}
      </Button>
      {shown === "chosen" && !area.choosingArea && (
        <Box sx={{ display: "flex", "& button": { px: 0.5, fontSize: "0.92rem", whiteSpace: "nowrap" } }}>
          <Button fullWidth onClick={onChoose}>
            Choose another
          </Button>
          {area.onArea && (
            <Button fullWidth onClick={area.onArea}>
              Only a part
            </Button>
          )}
          <Button fullWidth onClick={onRelease}>
            Show nothing
          </Button>
        </Box>
      )}
    </Box>
  );
}
