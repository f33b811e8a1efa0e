import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useEffect } from "react";
import { summary, verdictWord, type CheckLine, type Verdict } from "#core/check/verdicts";
import { Folded } from "../components/Folded";

/** A shape for each verdict, beside its word and its colour. */
const SIGNS: Record<Verdict, { sign: string; color: string }> = {
  good: { sign: "✓", color: "primary.main" },
  fair: { sign: "△", color: "text.primary" },
  bad: { sign: "■", color: "clay.main" },
  waiting: { sign: "·", color: "text.secondary" },
};

interface Props {
  lines: readonly CheckLine[];
  /** ten seconds are tried out; null while there is nothing to try */
  onRehearse: (() => void) | null;
  /** somebody wants to see the lines, or no longer */
  onOpen: (open: boolean) => void;
}

/** What was measured of voice, picture and room to keep it; one line, until it is opened. */
export function ReadyCheck({ lines, onRehearse, onOpen }: Props) {
  // It may go while it is open: nobody looks then.
  useEffect(() => () => onOpen(false), [onOpen]);
  return (
    <Folded title="Ready check" value={summary(lines)} onOpen={onOpen}>
      <Box component="ul" aria-label="Ready check" sx={{ m: 0, p: 0, listStyle: "none", display: "grid", gap: 1 }}>
        {lines.map(({ name, value, verdict, mend }) => (
          <Box component="li" key={name} sx={{ display: "grid", gridTemplateColumns: "24px 1fr auto", columnGap: 1 }}>
            <Box component="span" aria-hidden sx={{ color: SIGNS[verdict].color, textAlign: "center" }}>
              {SIGNS[verdict].sign}
            </Box>
            <span>
              <strong>{name}</strong> {value}
            </span>
            <Box component="span" sx={{ color: SIGNS[verdict].color }}>
              {verdictWord(verdict)}
            </Box>
            {mend && (
              <Typography variant="body2" sx={{ gridColumn: "2 / 4", color: "text.secondary" }}>
                {mend}
              </Typography>
            )}
          </Box>
        ))}
      </Box>
      <Button variant="outlined" disabled={!onRehearse} onClick={() => onRehearse?.()} sx={{ justifySelf: "start" }}>
        Rehearse ten seconds
      </Button>
    </Folded>
  );
}
