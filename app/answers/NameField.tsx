import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { AnswersStore, Me } from "./store";
import { useSay } from "./useSay";

/** A guest gives a name once; this browser is known by it from then on. */
export function NameField({
  store,
  me,
  onNamed,
  onCancel,
}: {
  store: AnswersStore | null;
  me: Me | null;
  onNamed: () => void;
  onCancel?: () => void;
}) {
  const { say, busy } = useSay(store);
  const [name, setName] = useState(me?.name ?? "");
  return (
    <Box
      component="form"
      aria-label="Who is speaking"
      onSubmit={async (e) => {
        e.preventDefault();
        if (await say({ do: "name", name })) onNamed();
      }}
      sx={{ display: "grid", gap: 1, borderLeft: "4px solid", borderColor: "marigold.main", pl: 1.5, py: 0.5 }}
    >
      <Typography variant="body2">Who is speaking? You are asked once; this browser remembers.</Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <TextField
          size="small"
          label="Your name"
          value={name}
          autoFocus
          required
          onChange={(e) => setName(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 80, autoComplete: "name" } }}
          sx={{ flex: 1 }}
        />
        <Button type="submit" variant="contained" disabled={busy || name.trim() === ""}>
          Go on
        </Button>
        {onCancel && <Button onClick={onCancel}>Cancel</Button>}
      </Box>
    </Box>
  );
}
