import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect, useState, type FormEvent } from "react";
import { useFetcher } from "react-router";
import type { Parting } from "#server/accounts/leaving";
import { Folded } from "../components/Folded";
import { SelectField } from "../components/SelectField";
import type { loader } from "../routes/partings";
import { FormError } from "../components/FormError";
import { CurrentPassword } from "./CurrentPassword";

const counted = (recordings: number) =>
  recordings === 0 ? "no recordings" : recordings === 1 ? "one recording" : `${recordings} recordings`;

/** The end of an account: what passes on, and to whom; what is gone for good. */
export function EndFold() {
  return (
    <Folded title="The end of your account" value="for good" later>
      <Ending />
    </Folded>
  );
}

function Ending() {
  const { load, data } = useFetcher<typeof loader>();
  useEffect(() => void load("/account/partings"), [load]);
  return data ? <EndForm partings={data} /> : <Typography role="status">Looking for what is yours</Typography>;
}

function EndForm({ partings }: { partings: readonly Parting[] }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const [current, setCurrent] = useState("");
  const [chosen, setChosen] = useState<Record<string, string>>({});
  const { state, data } = fetcher;
  const shared = partings.filter(({ heirs }) => heirs.length > 0);
  const own = partings.filter(({ heirs }) => heirs.length === 0);
  const heirs = Object.fromEntries(shared.map(({ id, heirs }) => [id, chosen[id] ?? heirs[0]!.id]));
  const end = (event: FormEvent) => {
    event.preventDefault();
    if (!window.confirm("End your account? This cannot be undone.")) return;
    void fetcher.submit({ do: "end-account", current, heirs: JSON.stringify(heirs) }, { method: "post" });
  };
  return (
    <>
      <Typography>
        You are signed out everywhere, and cannot sign in any more. Save everything of yours first, where you want to
        keep it. What you have said at links of others stays there, as of somebody who has left.
      </Typography>
      {own.map(({ id, name, recordings }) => (
        <Typography key={id}>
          <strong>{name}</strong> is yours alone: it is removed for good, with {counted(recordings)}. Links to them lead
          nowhere then.
        </Typography>
      ))}
      <Box
        component="form"
        aria-label="End your account"
        onSubmit={end}
        sx={{ display: "grid", gap: 2, justifyItems: "start" }}
      >
        {shared.map(({ id, name, recordings, heirs: people }) => (
          <SelectField
            key={id}
            label={`${name}: ${counted(recordings)} of yours pass to`}
            value={heirs[id]!}
            names={Object.fromEntries(people.map((one) => [one.id, one.name]))}
            onChoose={(next) => setChosen({ ...chosen, [id]: next })}
            minWidth={320}
          />
        ))}
        <CurrentPassword value={current} onChange={setCurrent} />
        <Button type="submit" variant="outlined" color="error" disabled={state !== "idle" || current === ""}>
          End my account
        </Button>
        <FormError error={data?.error} />
      </Box>
    </>
  );
}
