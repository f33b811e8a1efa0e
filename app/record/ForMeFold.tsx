import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import type { Wishes } from "#core/desk/wishes";
import { Folded } from "../components/Folded";
import { canFloat } from "./floating";

interface Props {
  wishes: Wishes;
  onWish: (change: Partial<Wishes>) => void;
}

/** What the presenter alone sees and hears: nothing of it is recorded. */
export function ForMeFold({ wishes: { mirrored, floats, cues, alarms, stays }, onWish }: Props) {
  const heard = [cues && "the state", alarms && "alarms"].filter(Boolean).join(" and ");
  return (
    <Folded
      title="For me alone"
      value={`${mirrored ? "as in a mirror" : "as others see me"}, ${heard ? `I hear ${heard}` : "silent"}${stays ? ", kept here too" : ""}`}
    >
      <FormControlLabel
        control={<Switch checked={mirrored} onChange={(_, next) => onWish({ mirrored: next })} />}
        label="I see myself as in a mirror; it is not recorded so"
      />
      {canFloat() && (
        <FormControlLabel
          control={<Switch checked={floats} onChange={(_, next) => onWish({ floats: next })} />}
          label="Controls in a small window above all others while I record"
        />
      )}
      <FormControlLabel
        control={<Switch checked={cues} onChange={(_, next) => onWish({ cues: next })} />}
        label="Sound when the state changes"
      />
      <FormControlLabel
        control={<Switch checked={alarms} onChange={(_, next) => onWish({ alarms: next })} />}
        label="Sound when something is wrong: with headphones, or it is recorded"
      />
      <FormControlLabel
        control={<Switch checked={!stays} onChange={(_, next) => onWish({ stays: !next })} />}
        label="Removed from this computer once all of it was sent"
      />
    </Folded>
  );
}
