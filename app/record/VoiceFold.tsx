import FormControlLabel from "@mui/material/FormControlLabel";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import { saidCost } from "../components/saidCost";
import { Folded } from "../components/Folded";

interface Props {
  suppresses: boolean;
  onSuppresses: (suppresses: boolean) => void;
  /** the share of one processor that it took, the last time; null where that is not known */
  cost: number | null;
}

/** What is done to the voice before it is recorded. */
export function VoiceFold({ suppresses, onSuppresses, cost }: Props) {
  return (
    <Folded title="Voice" value={suppresses ? "without the noise around it" : "as it comes"}>
      <FormControlLabel
        control={<Switch checked={suppresses} onChange={(_, next) => onSuppresses(next)} />}
        label="Take out the noise around my voice"
      />
      <Typography variant="body2">
        Fans, traffic and hum go; so does music. Rehearse with it and without it, and hear one after the other.{" "}
        {cost === null ? "What it takes of this computer is told after a rehearsal." : saidCost(cost)}
      </Typography>
    </Folded>
  );
}
