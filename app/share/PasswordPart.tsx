import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { PASSWORD_MIN } from "#core/access/password";
import { Part } from "./Part";
import type { ShareChange } from "./shared";

/** With a password, or without. The one that is set is told to nobody, and can only be replaced. */
export function PasswordPart({ has, onChange }: { has: boolean; onChange: (change: ShareChange) => void }) {
  return (
    <Part words={has ? "with a password" : "without a password"} label="Password">
      {(done) => (
        <Choose
          has={has}
          onChoose={(password) => {
            onChange({ password });
            done();
          }}
        />
      )}
    </Part>
  );
}

function Choose({ has, onChoose }: { has: boolean; onChoose: (password: string) => void }) {
  const [password, setPassword] = useState("");
  return (
    <Box
      component="form"
      onSubmit={(e) => {
        e.preventDefault();
        if (password.length >= PASSWORD_MIN) onChoose(password);
      }}
      sx={{ p: 2, display: "grid", gap: 1.5 }}
    >
      <Typography variant="body2">
        Whoever has no account that is let in gives it once. Tell it in another way than the link. Your colleagues are
        not asked for it.
      </Typography>
      <Box sx={{ display: "flex", gap: 1, alignItems: "flex-start" }}>
        <TextField
          size="small"
          label={has ? "A new password" : "Password"}
          value={password}
          autoFocus
          onChange={(e) => setPassword(e.target.value)}
          helperText={`At least ${PASSWORD_MIN} characters`}
          slotProps={{ htmlInput: { maxLength: 200, autoComplete: "off", spellCheck: false } }}
        />
        <Button type="submit" variant="contained" disabled={password.length < PASSWORD_MIN}>
          Set
        </Button>
      </Box>
      {has && (
        <Button variant="outlined" onClick={() => onChoose("")} sx={{ justifySelf: "start" }}>
          Ask for none
        </Button>
      )}
    </Box>
  );
}
