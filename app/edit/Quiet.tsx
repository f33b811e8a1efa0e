import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import type { Why } from "#core/recipe/proposals";
import type { RecordedLine } from "#core/recipe/recorded-line";
import { formatClock, spokenLength, spokenSeconds } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import { Folded } from "../components/Folded";
import { SelectField } from "../components/SelectField";
import type { QuietFound } from "./useQuiet";

interface Props {
  quiet: QuietFound;
  /** by what was said */
  others: readonly (Range & { why: Why })[];
  line: RecordedLine;
  /** plays what comes before and after a stretch of the source line */
  onListen: (stretch: Range) => void;
  onTake: (stretches: readonly Range[]) => void;
}

const REASONS: Record<Why, string> = {
  before: "Quiet before the first word",
  after: "Quiet after the last word",
  pause: "A long pause",
  filler: "Words that only fill",
  "begun-again": "You began this again",
  mistake: "You said that something went wrong",
  "backed-up": "You went back over this",
};
const LONGER = { "1 s": "1 second", "2 s": "2 seconds", "3 s": "3 seconds", "5 s": "5 seconds" };
const KEEP = { "0.3 s": "0.3 seconds", "0.6 s": "0.6 seconds", "1 s": "1 second" };
const keyOf = ({ from, to }: Range) => `${from} ${to}`;

/** What could be left out, with what it would win: one at a time, or all of a kind in one press. */
export function Quiet({ quiet, others, line, onListen, onTake }: Props) {
  const [refused, setRefused] = useState<readonly string[]>([]);
  const all = [...others, ...quiet.proposed].filter((one) => !refused.includes(keyOf(one)));
  const won = all.reduce((sum, { from, to }) => sum + to - from, 0);
  const [next] = all;
  return (
    <Box role="group" aria-label="What could be left out" sx={{ mb: 2 }}>
      <Folded
        title="Proposals"
        value={all.length === 0 ? "none" : `${all.length}, ${spokenSeconds(won)} shorter`}
        open={all.length > 0}
        key={all.length > 0 ? "some" : "none"}
      >
        {next && (
          <Box sx={{ display: "grid", gap: 1 }}>
            <Typography variant="body2">
              {REASONS[next.why]}:{" "}
              <span
                className="clock"
                aria-label={`from ${spokenLength(line.at(next.from))}, ${spokenLength(next.to - next.from)} long`}
              >
                {spokenSeconds(next.to - next.from)} at {formatClock(line.at(next.from))}
              </span>
            </Typography>
            <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1 }}>
              <Button size="small" variant="outlined" onClick={() => onTake([next])}>
                Leave it out
              </Button>
              <Button size="small" onClick={() => onListen(next)}>
                Play it without
              </Button>
              <Button size="small" onClick={() => setRefused([...refused, keyOf(next)])}>
                Keep it in
              </Button>
            </Box>
            {all.length > 1 && (
              <Button size="small" onClick={() => onTake(all)} sx={{ justifySelf: "start" }}>
                Leave all {all.length} out
              </Button>
            )}
          </Box>
        )}
        {quiet.places.length > 0 && (
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            <SelectField
              label="Pauses longer than"
              value={`${quiet.wish.longer} s` as keyof typeof LONGER}
              names={LONGER}
              onChoose={(longer) => quiet.onWish({ ...quiet.wish, longer: parseFloat(longer) })}
              minWidth={130}
            />
            <SelectField
              label="Shorten to"
              value={`${quiet.wish.keep} s` as keyof typeof KEEP}
              names={KEEP}
              onChoose={(keep) => quiet.onWish({ ...quiet.wish, keep: parseFloat(keep) })}
              minWidth={130}
            />
          </Box>
        )}
      </Folded>
    </Box>
  );
}
