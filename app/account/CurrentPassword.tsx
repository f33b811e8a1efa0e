import TextField from "@mui/material/TextField";

/** Shows that it is still the same person. */
export function CurrentPassword({ value, onChange }: { value: string; onChange: (value: string) => void }) {
  return (
    <TextField
      size="small"
      type="password"
      label="The password that you have now"
      autoComplete="current-password"
      value={value}
      onChange={(e) => onChange(e.target.value)}
      fullWidth
      sx={{ maxWidth: 420 }}
    />
  );
}
