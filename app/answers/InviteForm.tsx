import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import { useWho } from "../components/useWho";

/** A field in which people are named, by name or address; each gets a personal link. */
export function InviteForm({ recordingId, label, button }: { recordingId: string; label: string; button: string }) {
  const { fetcher, who, setWho, busy } = useWho();
  return (
    <Box
      component="form"
      aria-label="Ask people"
      onSubmit={(e) => {
        e.preventDefault();
        void fetcher.submit({ do: "invite", who }, { method: "post", action: `/recordings/${recordingId}` });
      }}
      sx={{ display: "flex", gap: 1, alignItems: "flex-start" }}
    >
      <TextField
        size="small"
        multiline
        maxRows={4}
        label={label}
        value={who}
        onChange={(e) => setWho(e.target.value)}
        helperText={fetcher.data?.error ?? "Names or addresses, with commas between. Each gets a personal link."}
        error={Boolean(fetcher.data?.error)}
        sx={{ flex: 1 }}
      />
      <Button type="submit" variant="outlined" disabled={busy || who.trim() === ""}>
        {button}
      </Button>
    </Box>
  );
}
