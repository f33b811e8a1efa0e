import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import TextField from "@mui/material/TextField";
import dayjs from "dayjs";
import { useState } from "react";
import { saidMoment } from "../components/When";
import { Part } from "./Part";
import type { ShareChange } from "./shared";

const KINDS = {
  opensAt: { label: "From when", never: "at once", said: (at: string) => `from ${at}`, field: "It opens" },
  endsAt: { label: "Until when", never: "for ever", said: (at: string) => `until ${at}`, field: "It closes" },
};
/** As a field of a day and a time has it, on the reader's own clock. */
const FIELD = "YYYY-MM-DDTHH:mm";

/** From when, or until when. The end of a working day is near at hand. */
export function MomentPart({
  kind,
  at,
  onChange,
}: {
  kind: keyof typeof KINDS;
  at: string | null;
  onChange: (change: ShareChange) => void;
}) {
  const { label, never, said, field } = KINDS[kind];
  return (
    <Part words={at === null ? never : said(saidMoment(Date.parse(at)))} label={label}>
      {(done) => (
        <Choose
          field={field}
          never={never}
          at={at}
          near={kind === "endsAt" ? NEAR_ENDS : NEAR_STARTS}
          onChoose={(moment) => {
            onChange({ [kind]: moment });
            done();
          }}
        />
      )}
    </Part>
  );
}

const NEAR_ENDS: [string, () => dayjs.Dayjs][] = [
  ["tonight", () => dayjs().endOf("day")],
  ["in a week", () => dayjs().add(7, "day").endOf("day")],
  ["in 30 days", () => dayjs().add(30, "day").endOf("day")],
];
const NEAR_STARTS: [string, () => dayjs.Dayjs][] = [
  ["tomorrow 9:00", () => dayjs().add(1, "day").hour(9).startOf("hour")],
  ["in a week, 9:00", () => dayjs().add(7, "day").hour(9).startOf("hour")],
];

function Choose({
  field,
  never,
  at,
  near,
  onChoose,
}: {
  field: string;
  never: string;
  at: string | null;
  near: [string, () => dayjs.Dayjs][];
  /** an ISO date and time, or nothing */
  onChoose: (moment: string) => void;
}) {
  const [value, setValue] = useState(at === null ? "" : dayjs(at).format(FIELD));
  const chosen = dayjs(value);
  return (
    <Box
      component="form"
      onSubmit={(e) => {
        e.preventDefault();
        if (chosen.isValid()) onChoose(chosen.toISOString());
      }}
      sx={{ p: 2, display: "grid", gap: 1.5 }}
    >
      <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
        {at !== null && (
          <Button size="small" variant="outlined" onClick={() => onChoose("")}>
            {never}
          </Button>
        )}
        {near.map(([name, when]) => (
          <Button key={name} size="small" variant="outlined" onClick={() => onChoose(when().toISOString())}>
            {name}
          </Button>
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1 }}>
        <TextField
          size="small"
          type="datetime-local"
          label={field}
          value={value}
          onChange={(e) => setValue(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
        />
        <Button type="submit" variant="contained" disabled={!chosen.isValid()}>
          Set
        </Button>
      </Box>
    </Box>
  );
}
