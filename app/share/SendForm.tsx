import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useFetcher } from "react-router";
import { sayNames } from "#core/access/sentence";
import { WORDS_MAX } from "#core/mail/letter";
import type { Named } from "./NamedPeople";
import { FormError } from "../components/FormError";

/** Mails the recording to those who are chosen. */
export function SendForm({ id, to, mails }: { id: string; to: readonly Named[]; mails: boolean }) {
  const fetcher = useFetcher<{ error: string | null; sent?: number }>();
  const [words, setWords] = useState("");
  if (!mails)
    return (
      <Typography variant="body2" color="text.secondary" sx={{ mt: 1 }}>
        No mail server is set up here: copy the links, and send them yourself.
      </Typography>
    );
  const sent = fetcher.state === "idle" ? fetcher.data?.sent : undefined;
  return (
    <Box
      component="form"
      aria-label="Send it by mail"
      onSubmit={(e) => {
        e.preventDefault();
        const fields = { do: "send", words, mailTo: JSON.stringify(to.map((p) => p.id)) };
        void fetcher.submit(fields, { method: "post", action: `/recordings/${id}` });
      }}
      sx={{ mt: 1.5, display: "grid", gap: 1 }}
    >
      <TextField
        size="small"
        multiline
        minRows={2}
        maxRows={6}
        label="A line of your own"
        value={words}
        onChange={(e) => setWords(e.target.value)}
        slotProps={{ htmlInput: { maxLength: WORDS_MAX } }}
      />
      <Box sx={{ display: "flex", gap: 1.5, alignItems: "center", flexWrap: "wrap" }}>
        <Button type="submit" variant="outlined" disabled={fetcher.state !== "idle" || to.length === 0}>
          {to.length === 0 ? "Choose whom to mail" : `Mail it to ${sayNames(to.map((p) => p.name))}`}
        </Button>
        {sent !== undefined && (
          <Typography role="status" variant="body2">
            {sent === 1 ? "On its way to one person." : `On its way to ${sent} people.`}
          </Typography>
        )}
      </Box>
      <FormError error={fetcher.data?.error} />
    </Box>
  );
}
