import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useEffect, useState } from "react";
import { useFetcher } from "react-router";
import type { Wishes } from "#core/desk/wishes";
import type { SetUp } from "#server/desk/set-ups";
import { Folded } from "../components/Folded";
import { SelectField } from "../components/SelectField";

export interface SetUpChoice {
  setUps: readonly SetUp[];
  /** the one that is used; null for none */
  used: SetUp | null;
  /** they can be kept, changed and removed */
  keeps: boolean;
  onUse: (setUp: SetUp | null) => void;
  /** what is wanted now was kept under this name */
  onKept: (name: string) => void;
}

const NONE = "none";

/** Are these the wishes of that set-up, still? */
const isAs = (wishes: Wishes, setUp: SetUp) =>
  (Object.keys(setUp.wishes) as (keyof Wishes)[]).every(
    (name) => JSON.stringify(setUp.wishes[name]) === JSON.stringify(wishes[name]),
  );

/** What is chosen here, kept under a name for the next times. */
export function SetUpFold({ setUps, used, keeps, onUse, onKept, wishes }: SetUpChoice & { wishes: Wishes }) {
  const fetcher = useFetcher<{ error: string | null }>();
  const [name, setName] = useState(used?.name ?? "");
  const [isFirst, setFirst] = useState(used?.isFirst ?? false);
  useEffect(() => {
    setName(used?.name ?? "");
    setFirst(used?.isFirst ?? false);
  }, [used]);
  const busy = fetcher.state !== "idle";
  const there = setUps.find((s) => s.name.toLowerCase() === name.trim().toLowerCase());
  const send = (fields: Record<string, string>) => void fetcher.submit(fields, { method: "post", action: "/set-ups" });
  const value = used ? `${used.name}${isAs(wishes, used) ? "" : ", changed"}` : "none";
  return (
    <Folded title="Set-up" value={value}>
      {setUps.length > 0 && (
        <SelectField
          label="Use"
          value={used?.id ?? NONE}
          names={{
            [NONE]: "None",
            ...Object.fromEntries(setUps.map((s) => [s.id, s.isFirst ? `${s.name} (starts with it)` : s.name])),
          }}
          onChoose={(id) => onUse(setUps.find((s) => s.id === id) ?? null)}
        />
      )}
      {!keeps && <Typography variant="body2">New ones are kept when there is a connection.</Typography>}
      {keeps && (
        <>
          <TextField
            size="small"
            label="Name"
            value={name}
            onChange={(e) => setName(e.target.value)}
            helperText="Source, quality, timing, folder and who can open the link are kept under it."
            slotProps={{ htmlInput: { maxLength: 80 } }}
          />
          <FormControlLabel
            control={<Switch checked={isFirst} onChange={(_, next) => setFirst(next)} />}
            label="Start with it every time"
          />
          <Box sx={{ display: "flex", gap: 1 }}>
            <Button
              variant="outlined"
              fullWidth
              disabled={busy || name.trim() === ""}
              onClick={() => {
                send({ do: "save", name, wishes: JSON.stringify(wishes), isFirst: String(isFirst) });
                onKept(name);
              }}
            >
              {there ? "Keep it as it is now" : "Keep as a set-up"}
            </Button>
            {used && (
              <Button
                disabled={busy}
                onClick={() => {
                  send({ do: "remove", id: used.id });
                  onUse(null);
                }}
              >
                Remove
              </Button>
            )}
          </Box>
          <Typography variant="body2" role="status" color={fetcher.data?.error ? "error" : undefined}>
            {fetcher.data?.error ?? (fetcher.data && !busy ? "Kept." : "")}
          </Typography>
        </>
      )}
    </Folded>
  );
}
