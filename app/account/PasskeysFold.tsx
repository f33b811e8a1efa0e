import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState, type FormEvent } from "react";
import { useFetcher, useRevalidator } from "react-router";
import type { PasskeyLine } from "#server/accounts/passkeys";
import { addPasskey, NoPasskey } from "./passkey";
import { FoldedList, MadeAndUsed } from "./FoldedList";
import { FormError } from "../components/FormError";
import { CurrentPassword } from "./CurrentPassword";

/** The passkeys of somebody: made on this device, and removed. */
export function PasskeysFold({ passkeys }: { passkeys: readonly PasskeyLine[] }) {
  return (
    <FoldedList
      title="Passkeys"
      label="Passkeys"
      all={passkeys}
      row={(passkey) => <Row key={passkey.id} passkey={passkey} />}
    >
      <NewPasskey />
    </FoldedList>
  );
}

function Row({ passkey: { id, name, madeAt, usedAt } }: { passkey: PasskeyLine }) {
  const fetcher = useFetcher();
  const end = () => {
    if (!window.confirm(`Remove the passkey of ${name}? It opens nothing any more then.`)) return;
    void fetcher.submit({ do: "end-passkey", passkey: id }, { method: "post", action: "/account" });
  };
  return (
    <Box
      component="li"
      sx={{ display: "flex", gap: 2, alignItems: "center", py: 1, borderTop: "1px solid", borderColor: "mist" }}
    >
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography>{name}</Typography>
        <Typography variant="body2" color="text.secondary">
          <MadeAndUsed madeAt={madeAt} usedAt={usedAt} />
        </Typography>
      </Box>
      <Button
        size="small"
        disabled={fetcher.state !== "idle"}
        onClick={end}
        aria-label={`Remove the passkey of ${name}`}
      >
        Remove
      </Button>
    </Box>
  );
}

function NewPasskey() {
  const { revalidate } = useRevalidator();
  const [current, setCurrent] = useState("");
  const [busy, setBusy] = useState(false);
  const [said, setSaid] = useState<{ problem: string | null } | null>(null);
  const add = async () => {
    setBusy(true);
    setSaid(null);
    try {
      await addPasskey(current);
      setCurrent("");
      setSaid({ problem: null });
      await revalidate();
    } catch (refused) {
      if (!(refused instanceof NoPasskey)) throw refused;
      setSaid({ problem: refused.message });
    } finally {
      setBusy(false);
    }
  };
  return (
    <Box
      component="form"
      aria-label="Another passkey"
      onSubmit={(event: FormEvent) => {
        event.preventDefault();
        void add();
      }}
      sx={{ display: "grid", gap: 1.5, justifyItems: "start", maxWidth: 520 }}
    >
      <Typography>
        With a passkey you sign in and type nothing: this device, or a key that you plug in, asks you by a finger, a
        face or a number. It works at this address alone, and cannot be given away by mistake.
      </Typography>
      <CurrentPassword value={current} onChange={setCurrent} />
      <Button type="submit" variant="outlined" disabled={busy || current === ""}>
        {busy ? "One moment" : "Make a passkey here"}
      </Button>
      <FormError error={said?.problem} />
      {said?.problem === null && <Typography role="status">Made. Next time you can sign in with it.</Typography>}
    </Box>
  );
}
