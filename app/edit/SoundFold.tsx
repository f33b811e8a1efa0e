import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { GAIN, gainTowards } from "#core/audio/gain";
import { GAINED, type Gained, type Gains } from "#core/recipe/gains";
import type { Look, Measured } from "#server/editing/look";
import { Folded } from "../components/Folded";

interface Props {
  /** of the takes that were looked over */
  looks: readonly Look[];
  gains: Gains;
  onGain: (track: Gained, decibels: number) => void;
}

/** What voices are brought to: common practice for speech that is heard at a computer (no published source). LUFS */
const TARGET = -16;
const NAMES: Record<Gained, string> = { microphone: "Your voice", sound: "The computer's sound" };
const signed = (decibels: number) => `${decibels > 0 ? "+" : ""}${decibels} dB`;

/** How loud each sound is, and how loud it is to be. It is data: nothing is encoded anew, and it can be taken back. */
export function SoundFold({ looks, gains, onGain }: Props) {
  const tracks = GAINED.flatMap((track) => {
    const measured = looks.flatMap((look) => look.measured[track] ?? []);
    return measured.length > 0 ? [{ track, all: together(measured) }] : [];
  });
  if (tracks.length === 0) return null;
  const value = tracks.map(({ track }) => (gains[track] ? signed(gains[track]) : "as recorded")).join(", ");
  return (
    <Folded title="Sound" value={value}>
      {tracks.map(({ track, all }) => (
        <OneSound key={track} track={track} all={all} gain={gains[track] ?? 0} onGain={onGain} />
      ))}
    </Folded>
  );
}

interface OneProps {
  track: Gained;
  all: { loudness: number; peak: number };
  gain: number;
  onGain: (track: Gained, decibels: number) => void;
}

function OneSound({ track, all, gain, onGain }: OneProps) {
  const [moved, setMoved] = useState<number | null>(null);
  const wanted = gainTowards(all, TARGET);
  const heard = Number.isFinite(all.loudness);
  const shown = moved ?? gain;
  return (
    <Box role="group" aria-label={NAMES[track]} sx={{ display: "grid", gap: 0.5 }}>
      <Typography variant="body2">
        {NAMES[track]}:{" "}
        {heard
          ? `${(all.loudness + shown).toFixed(1)} LUFS, peaks ${(all.peak + shown).toFixed(1)} dBTP`
          : "nothing is heard"}
      </Typography>
      {heard && (
        <>
          <Slider
            data-own-keys
            size="small"
            aria-label={`${NAMES[track]}, louder or quieter`}
            min={GAIN.least}
            max={GAIN.most}
            step={0.5}
            value={shown}
            getAriaValueText={signed}
            valueLabelDisplay="auto"
            valueLabelFormat={signed}
            onChange={(_, to) => setMoved(to as number)}
            onChangeCommitted={(_, to) => {
              setMoved(null);
              onGain(track, to as number);
            }}
            sx={{ mx: 1, width: "auto" }}
          />
          <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
            <Button size="small" variant="outlined" disabled={gain === wanted} onClick={() => onGain(track, wanted)}>
              Bring it to {TARGET} LUFS: {signed(wanted)}
            </Button>
            {gain !== 0 && (
              <Button size="small" onClick={() => onGain(track, 0)}>
                As recorded
              </Button>
            )}
          </Box>
          {all.peak + shown > -1 && (
            <Typography variant="body2" role="status">
              Its peaks go beyond −1 dBTP: it may be heard as a crackle.
            </Typography>
          )}
        </>
      )}
    </Box>
  );
}

/** The loudest of all takes counts: one gain is for all of them. −∞ where nothing is heard. */
function together(measured: readonly Measured[]): { loudness: number; peak: number } {
  const most = (pick: (one: Measured) => number | null) =>
    measured.reduce((loudest, one) => Math.max(loudest, pick(one) ?? -Infinity), -Infinity);
  return { loudness: most((one) => one.loudness), peak: most((one) => one.peak) };
}
