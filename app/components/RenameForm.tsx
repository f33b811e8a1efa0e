import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useState } from "react";

interface Props {
  /** what the form is called */
  label: string;
  name: string;
  busy: boolean;
  onRename: (name: string) => void;
}

/** Something is called another name. */
export function RenameForm({ label, name, busy, onRename }: Props) {
  const [next, setNext] = useState(name);
  return (
    <Box
      component="form"
      aria-label={label}
      onSubmit={(e) => {
        e.preventDefault();
        onRename(next);
      }}
      sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}
    >
      <TextField
        size="small"
        label="What it is called"
        value={next}
        onChange={(e) => setNext(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 80 } }}
        sx={{ minWidth: 240 }}
      />
      <Button type="submit" disabled={next.trim() === "" || next === name || busy}>
        Rename it
      </Button>
    </Box>
  );
}
