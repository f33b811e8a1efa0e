import { useState } from "react";
import Box from "@mui/material/Box";
import Typography from "@mui/material/Typography";
import {
  HEIGHTS,
  LEVELS,
  LEVEL_QUALITY,
  RATES,
  levelOf,
  type Height,
  type Level,
  type Quality,
  type Rate,
} from "#core/media/quality";
import type { Room } from "#server/desk/room";
import { SECOND, spokenLength } from "#core/time/micros";
import { Folded } from "../components/Folded";
import { SelectField } from "../components/SelectField";
import { saidBytes } from "../components/saidBytes";

const LEVEL_NAMES: Record<Level, string> = {
  small: "Small",
  even: "Even",
  sharp: "Sharp",
};
const FOR: Record<Level, string> = {
  small: "For slides and slow connections.",
  even: "For most things.",
  sharp: "For small print.",
};
const HEIGHT_NAMES = Object.fromEntries(HEIGHTS.map((h) => [h, `${h} lines`])) as Record<`${Height}`, string>;
const RATE_NAMES = Object.fromEntries(
  RATES.map((r) => [r, r === 60 ? "60, for fast motion" : `${r} a second`]),
) as Record<`${Rate}`, string>;

interface Props {
  quality: Quality;
  onQuality: (quality: Quality) => void;
  /** what a minute takes at a quality, in bytes, as far as is known */
  minuteOf: (quality: Quality) => number;
  /** that is from what recordings really took, not the most that they may take */
  isLearnt: boolean;
  room: Room;
  /** bytes that this computer may still keep; null where it does not tell */
  free: number | null;
}

/** How finely a screen is recorded, and what that takes. */
export function QualityFold({ quality, onQuality, minuteOf, isLearnt, room, free }: Props) {
  const level = levelOf(quality);
  const takes = (of: Quality) => `about ${saidBytes(minuteOf(of))} a minute`;
  const names = {
    ...(Object.fromEntries(LEVELS.map((l) => [l, `${LEVEL_NAMES[l]}, ${takes(LEVEL_QUALITY[l])}`])) as Record<
      Level,
      string
    >),
    own: "As I choose",
  };
  const [own, setOwn] = useState(level === null);
  return (
    <Folded title="Quality" value={`${quality.height} lines, ${quality.rate} a second, ${takes(quality)}`}>
      <SelectField
        label="Level"
        value={own || !level ? "own" : level}
        names={names}
        onChoose={(to) => {
          setOwn(to === "own");
          if (to !== "own") onQuality(LEVEL_QUALITY[to]);
        }}
      />
      {(own || !level) && (
        <Box sx={{ display: "grid", gridTemplateColumns: "1fr 1fr", gap: 1.5 }}>
          <SelectField
            label="At most"
            value={`${quality.height}`}
            names={HEIGHT_NAMES}
            onChoose={(height) => onQuality({ ...quality, height: Number(height) as Height })}
          />
          <SelectField
            label="Pictures"
            value={`${quality.rate}`}
            names={RATE_NAMES}
            onChoose={(rate) => onQuality({ ...quality, rate: Number(rate) as Rate })}
          />
        </Box>
      )}
      <Typography variant="body2">
        {level ? FOR[level] : "As fine as you say."} What is smaller is never enlarged.{" "}
        {isLearnt
          ? "The amounts are from what your recordings on this computer really took."
          : "A minute takes so much at the most; a still screen takes far less."}
      </Typography>
      <Typography variant="body2">{roomWords(room, free, minuteOf(quality))}</Typography>
    </Folded>
  );
}

/** How long a take can be, and what decides it. */
function roomWords({ longestUs, most, used }: Room, free: number | null, aMinute: number): string {
  const minutes = (bytes: number) => spokenLength(60 * SECOND * Math.floor(Math.max(0, bytes) / aMinute));
  const words = [
    longestUs !== null && `A take here lasts ${spokenLength(longestUs)} at the most.`,
    free !== null && `This computer has room for ${minutes(free)}.`,
    most !== null && `The workspace has ${saidBytes(Math.max(0, most - used))} left, for ${minutes(most - used)}.`,
  ];
  return words.filter(Boolean).join(" ");
}
