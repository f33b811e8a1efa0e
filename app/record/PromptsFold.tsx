import Box from "@mui/material/Box";
import Checkbox from "@mui/material/Checkbox";
import TextField from "@mui/material/TextField";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import {
  plannedSeconds,
  SCRIPT_MAX,
  SPEEDS,
  wordsIn,
  type Prompts,
  type ScriptSize,
  type Speed,
} from "#core/desk/prompts";
import { fromSeconds, spokenLength } from "#core/time/micros";
import { Folded } from "../components/Folded";
import { SelectField } from "../components/SelectField";
import { LineList } from "./LineList";

export interface PromptsDraft {
  prompts: Prompts;
  change: (part: Partial<Prompts>) => void;
}

const SIZE_NAMES: Record<ScriptSize, string> = { small: "Small", medium: "Medium", large: "Large" };
const SPEED_NAMES = Object.fromEntries(SPEEDS.map((s) => [s, `${s} words a minute`])) as Record<`${Speed}`, string>;

const counted = (n: number, what: string) => `${n} ${what}${n === 1 ? "" : "s"}`;

/** What is to be said: seen by the presenter alone. */
export function PromptsFold({ prompts, change }: PromptsDraft) {
  const { points, script, size, speed } = prompts;
  const planned = fromSeconds(plannedSeconds(prompts));
  const value = [
    points.length > 0 && counted(points.length, "point"),
    script && `a script of ${spokenLength(planned)}`,
  ].filter(Boolean);
  return (
    <Folded title="Prompts" value={value.length > 0 ? value.join(", ") : "none"}>
      <Typography variant="body2">
        Only you see them, here, while you record. Each point can become a chapter.
      </Typography>
      <LineList
        name="Talking points"
        addName="Next point"
        lines={points}
        onLines={(next) => change({ points: next })}
      />
      <TextField
        size="small"
        label="Script"
        multiline
        minRows={2}
        maxRows={8}
        value={script}
        onChange={(e) => change({ script: e.target.value })}
        helperText={script ? `${counted(wordsIn(script), "word")}, ${spokenLength(planned)} at this speed` : undefined}
        slotProps={{ htmlInput: { maxLength: SCRIPT_MAX } }}
      />
      {script && (
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5 }}>
          <SelectField
            label="Speed"
            value={`${speed}`}
            names={SPEED_NAMES}
            onChoose={(next) => change({ speed: Number(next) as Speed })}
          />
          <SelectField label="Size" value={size} names={SIZE_NAMES} onChoose={(next) => change({ size: next })} />
        </Box>
      )}
    </Folded>
  );
}

/** What is to be seen to before recording: everybody has their own list. */
export function TidyFold({ prompts, change }: PromptsDraft) {
  const [done, setDone] = useState<ReadonlySet<string>>(new Set());
  const { tidy } = prompts;
  const left = tidy.filter(({ id }) => !done.has(id)).length;
  const tick = (id: string) => {
    const next = new Set(done);
    if (!next.delete(id)) next.add(id);
    setDone(next);
  };
  return (
    <Folded
      title="Tidy up"
      value={tidy.length === 0 ? "nothing" : left === 0 ? "done" : `${left} of ${tidy.length} to do`}
    >
      <LineList
        name="To see to before recording"
        addName="One more"
        lines={tidy}
        onLines={(next) => change({ tidy: next })}
        before={({ id, text }) => (
          <Checkbox
            size="small"
            checked={done.has(id)}
            onChange={() => tick(id)}
            slotProps={{ input: { "aria-label": `Done: ${text}` } }}
          />
        )}
      />
    </Folded>
  );
}
