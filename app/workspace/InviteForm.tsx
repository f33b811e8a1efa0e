import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useWho } from "../components/useWho";
import { FormError } from "../components/FormError";

/** Addresses to which links into the workspace are mailed. @param as what they join as, and for how long it is open */
export function InviteForm({ as }: { as: { role: string; days: string } }) {
  const { fetcher, who, setWho, busy, done } = useWho<{ error: string | null; invited?: number }>();
  const { data } = fetcher;
  return (
    <Box
      component="form"
      aria-label="Invite by mail"
      onSubmit={(e) => {
        e.preventDefault();
        void fetcher.submit({ do: "invite", who, ...as }, { method: "post", action: "/workspace" });
      }}
      sx={{ mb: 2, maxWidth: 640 }}
    >
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "flex-start" }}>
        <TextField
          size="small"
          fullWidth
          label="Invite by mail"
          value={who}
          onChange={(e) => setWho(e.target.value)}
          helperText="Addresses, with commas between. Each gets a link of their own, which lets in one person."
        />
        <Button type="submit" variant="contained" disabled={busy || who.trim() === ""}>
          Invite
        </Button>
      </Box>
      <FormError error={data?.error} sx={{ mt: 1 }} />
      {done && (
        <Typography role="status" sx={{ mt: 1 }}>
          {data?.invited === 1 ? "On its way to one person." : `On its way to ${data?.invited} people.`}
        </Typography>
      )}
    </Box>
  );
}
