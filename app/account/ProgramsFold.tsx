import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { useFetcher } from "react-router";
import { SCOPE_WORDS, SCOPES, type Scope } from "#core/api/scopes";
import type { Program } from "#server/accounts/programs";
import { SelectField } from "../components/SelectField";
import { Day } from "../components/When";
import { SecretOnce, useOnceMade } from "../components/SecretOnce";
import { Ticks } from "./Ticks";
import { FoldedList, MadeAndUsed } from "./FoldedList";
import { FormError } from "../components/FormError";

const DAYS = { "30": "for 30 days", "365": "for a year", "0": "until you end it" };

interface Props {
  programs: readonly Program[];
  /** the workspace that one looks at: a program that is made now acts there */
  workspace: string;
}

/** Programs that act for somebody: made, with a secret that is shown once, and ended. */
export function ProgramsFold({ programs, workspace }: Props) {
  return (
    <FoldedList
      title="Programs that act for you"
      label="Programs"
      all={programs}
      row={(program) => <Row key={program.id} program={program} />}
    >
      <NewProgram workspace={workspace} />
    </FoldedList>
  );
}

function Row({ program: { id, name, workspaceName, scopes, madeAt, lastAt, endsAt } }: { program: Program }) {
  const fetcher = useFetcher();
  const end = () => void fetcher.submit({ do: "end-program", program: id }, { method: "post", action: "/account" });
  return (
    <Box
      component="li"
      sx={{ display: "flex", gap: 2, alignItems: "center", py: 1, borderTop: "1px solid", borderColor: "mist" }}
    >
      <Box sx={{ flex: 1, minWidth: 0 }}>
        <Typography sx={{ overflowWrap: "anywhere" }}>
          {name}{" "}
          <Box component="span" sx={{ color: "text.secondary" }}>
            in {workspaceName}: {scopes.join(", ")}
          </Box>
        </Typography>
        <Typography variant="body2" color="text.secondary">
          <MadeAndUsed madeAt={madeAt} usedAt={lastAt} />
          {endsAt && (
            <>
              , until <Day day={endsAt.slice(0, 10)} />
            </>
          )}
        </Typography>
      </Box>
      <Button size="small" disabled={fetcher.state !== "idle"} onClick={end} aria-label={`End ${name}`}>
        End it
      </Button>
    </Box>
  );
}

function NewProgram({ workspace }: { workspace: string }) {
  const fetcher = useFetcher<{ error: string | null; secret?: string }>();
  const [name, setName] = useState("");
  const [scopes, setScopes] = useState<readonly Scope[]>(["read"]);
  const [current, setCurrent] = useState("");
  const [days, setDays] = useState<keyof typeof DAYS>("30");
  const { state, data } = fetcher;
  useOnceMade(data?.secret, () => {
    setName("");
    setCurrent("");
  });
  return (
    <Box
      component="form"
      aria-label="Let a program act for you"
      onSubmit={(e) => {
        e.preventDefault();
        const fields = { do: "make-program", name, days, scopes: JSON.stringify(scopes), current };
        void fetcher.submit(fields, { method: "post", action: "/account" });
      }}
      sx={{ display: "grid", gap: 1.5, justifyItems: "start" }}
    >
      <Typography>
        A program of yours, or one that you trust, acts in {workspace} as you do, within what you tick. What it can ask
        for is described <a href="/api/openapi.json">for programs</a> (OpenAPI).
      </Typography>
      <Box sx={{ display: "flex", gap: 1.5, flexWrap: "wrap" }}>
        <TextField
          size="small"
          label="What it is called"
          value={name}
          onChange={(e) => setName(e.target.value)}
          slotProps={{ htmlInput: { maxLength: 80, autoComplete: "off" } }}
        />
        <SelectField label="It may act" value={days} names={DAYS} onChoose={setDays} minWidth={150} />
      </Box>
      <Ticks label="What it may do" all={SCOPES} words={SCOPE_WORDS} ticked={scopes} onTick={setScopes} />
      <TextField
        size="small"
        type="password"
        label="Your password"
        value={current}
        onChange={(e) => setCurrent(e.target.value)}
        slotProps={{ htmlInput: { maxLength: 200, autoComplete: "current-password" } }}
      />
      <Button
        type="submit"
        variant="outlined"
        disabled={state !== "idle" || name.trim() === "" || scopes.length === 0 || current === ""}
      >
        Make its secret
      </Button>
      <FormError error={data?.error} />
      {data?.secret && <SecretOnce secret={data.secret}>Give the program this secret.</SecretOnce>}
    </Box>
  );
}
