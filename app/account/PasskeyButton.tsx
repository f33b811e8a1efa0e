import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import { useState } from "react";
import { enterByPasskey, NoPasskey } from "./passkey";
import { FormError } from "../components/FormError";

/** Signs in with nothing typed. @param to where one wanted to go */
export function PasskeyButton({ to }: { to: string | null }) {
  const [busy, setBusy] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  const enter = async () => {
    setBusy(true);
    setProblem(null);
    try {
      // The page knows nobody yet: it is loaded anew.
      location.assign(await enterByPasskey(to));
    } catch (refused) {
      if (!(refused instanceof NoPasskey)) throw refused;
      setProblem(refused.message);
      setBusy(false);
    }
  };
  return (
    <Box sx={{ mb: 3 }}>
      <Button variant="outlined" size="large" fullWidth disabled={busy} onClick={() => void enter()}>
        {busy ? "One moment" : "Sign in with a passkey"}
      </Button>
      <FormError error={problem} sx={{ mt: 1 }} />
    </Box>
  );
}
