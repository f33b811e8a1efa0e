import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";

/** Something that was to be recorded does not deliver: one sentence, and the way on without it. */
export interface Doubt {
  what: string;
  goOn: string;
}

interface Props {
  disabled: boolean;
  /** the browser's own window is open */
  asking: boolean;
  doubt: Doubt | null;
  onRecord: () => void;
}

/** Record; where something that was chosen does not deliver, it asks first. */
export function RecordButton({ disabled, asking, doubt, onRecord }: Props) {
  const [asked, setAsked] = useState(false);
  if (asked && doubt && !asking) {
    return (
      <Box
        role="alertdialog"
        aria-label="Before recording"
        aria-describedby="doubt"
        sx={{ border: "2px solid", borderColor: "clay.main", p: 2, display: "grid", gap: 1.5 }}
      >
        <Typography id="doubt">{doubt.what}</Typography>
        <Button variant="contained" size="large" autoFocus onClick={() => setAsked(false)}>
          Let me see to it
        </Button>
        <Button
          color="clay"
          onClick={() => {
            setAsked(false);
            onRecord();
          }}
        >
          {doubt.goOn}
        </Button>
      </Box>
    );
  }
  return (
    <Button
      variant="contained"
      size="large"
      fullWidth
      color="clay"
      disabled={disabled || asking}
      onClick={doubt ? () => setAsked(true) : onRecord}
      sx={{ minHeight: 56 }}
    >
      {asking ? "Choose in the browser's window" : "Record"}
    </Button>
  );
}
