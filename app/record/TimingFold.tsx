import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import TextField from "@mui/material/TextField";
import type { CountIn, StopAfter, Wishes } from "#core/desk/wishes";
import { nextAt } from "#core/time/next-at";
import { Folded } from "../components/Folded";
import { SelectField } from "../components/SelectField";
import { download } from "../components/download";

const COUNT_IN_NAMES: Record<CountIn, string> = { 0: "none", 3: "3 seconds", 5: "5 seconds", 10: "10 seconds" };
const STOP_NAMES: Record<StopAfter, string> = {
  never: "when I stop it",
  1: "after 1 minute",
  2: "after 2 minutes",
  3: "after 3 minutes",
  5: "after 5 minutes",
  10: "after 10 minutes",
  15: "after 15 minutes",
  30: "after 30 minutes",
  60: "after 60 minutes",
};

/** A time of day at which it starts by itself; "" for by a press. It is for one recording. */
export interface Start {
  clock: string;
  onClock: (clock: string) => void;
}

interface Props extends Start {
  wishes: Wishes;
  onWish: (change: Partial<Wishes>) => void;
}

/** When a recording starts and ends. */
export function TimingFold({ wishes, onWish, clock, onClock }: Props) {
  const starts = clock ? `at ${clock}` : wishes.atOnce ? "at once when chosen" : "by Record";
  return (
    <Folded
      title="Start and end"
      value={[
        starts,
        wishes.countIn === "0" ? "without a count" : `after ${COUNT_IN_NAMES[wishes.countIn]}`,
        `ends ${STOP_NAMES[wishes.stopAfter]}`,
      ].join(", ")}
    >
      <SelectField
        label="Count in"
        value={wishes.countIn}
        names={COUNT_IN_NAMES}
        onChoose={(countIn) => onWish({ countIn })}
      />
      <SelectField
        label="It ends"
        value={wishes.stopAfter}
        names={STOP_NAMES}
        onChoose={(stopAfter) => onWish({ stopAfter })}
      />
      <Box sx={{ display: "flex", gap: 1, alignItems: "center" }}>
        <TextField
          type="time"
          size="small"
          label="Start by itself at"
          value={clock}
          onChange={(e) => onClock(e.target.value)}
          slotProps={{ inputLabel: { shrink: true } }}
          sx={{ flex: 1 }}
        />
        <Button disabled={!clock} onClick={() => void intoCalendar(clock, wishes.stopAfter)}>
          Calendar file
        </Button>
      </Box>
      <FormControlLabel
        control={<Switch checked={wishes.atOnce} onChange={(_, atOnce) => onWish({ atOnce })} />}
        label="Record at once when I have chosen what to show"
      />
    </Folded>
  );
}

const USUAL_MINUTES = 10;

/** The library that writes calendars is fetched when it is needed. */
async function intoCalendar(clock: string, stopAfter: StopAfter): Promise<void> {
  const { calendarFile } = await import("./calendar");
  const now = new Date();
  const file = calendarFile({
    uid: `${crypto.randomUUID()}@${location.hostname}`,
    title: "Record, with Clear Nod",
    url: `${location.origin}/record`,
    at: nextAt(clock, now)!.getTime(),
    now: now.getTime(),
    minutes: stopAfter === "never" ? USUAL_MINUTES : Number(stopAfter),
  });
  download("recording.ics", new Blob([file], { type: "text/calendar" }));
}
