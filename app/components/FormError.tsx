import Alert from "@mui/material/Alert";
import type { SxProps } from "@mui/material/styles";

/** Why something was not done, beside what was pressed; nothing where it was. */
export function FormError({ error, sx }: { error: string | null | undefined; sx?: SxProps }) {
  if (!error) return null;
  return (
    <Alert severity="error" role="alert" sx={sx}>
      {error}
    </Alert>
  );
}
