import FormControlLabel from "@mui/material/FormControlLabel";
import Slider from "@mui/material/Slider";
import Switch from "@mui/material/Switch";
import Typography from "@mui/material/Typography";
import Box from "@mui/material/Box";
import type { LensState } from "#capture/lens/lens-track";
import { MOST_ZOOM, type Lens } from "#core/layout/lens";
import { saidCost } from "../components/saidCost";
import { Folded } from "../components/Folded";

interface Props {
  lens: Lens;
  onLens: (lens: Lens) => void;
  state: LensState;
}

/** What is made of the camera's picture before it is recorded. It is seen at once, in the preview. */
export function LensFold({ lens, onLens, state }: Props) {
  const { zoom, x, y, blurs, flips } = lens;
  const change = (part: Partial<Lens>) => onLens({ ...lens, ...part });
  const words = [
    zoom > 100 && `${zoom} %`,
    blurs && "what is behind me blurred",
    flips && "recorded as in a mirror",
  ].filter(Boolean);
  return (
    <Folded title="My picture" value={words.join(", ") || "as it comes"}>
      <Slide label="Nearer" value={zoom} min={100} max={MOST_ZOOM} onValue={(zoom) => change({ zoom })} />
      {zoom > 100 && (
        <>
          <Slide label="From left to right" value={x} min={0} max={100} onValue={(x) => change({ x })} />
          <Slide label="From top to bottom" value={y} min={0} max={100} onValue={(y) => change({ y })} />
        </>
      )}
      <FormControlLabel
        control={<Switch checked={blurs} onChange={(_, blurs) => change({ blurs })} />}
        label="Blur what is behind me"
      />
      <FormControlLabel
        control={<Switch checked={flips} onChange={(_, flips) => change({ flips })} />}
        label="Record it as in a mirror: writing is read backwards"
      />
      <Typography variant="body2" role="status">
        {blurs && PERSON[state.person]}{" "}
        {state.cost === null ? "What it takes of this computer is told while it is on." : saidCost(state.cost)}
      </Typography>
    </Folded>
  );
}

const PERSON: Record<LensState["person"], string> = {
  "not yet": "All of the picture is blurred until you are told from what is behind you.",
  yes: "You are seen; what is behind you is not.",
  no: "This browser cannot tell you from what is behind you, so all of the picture is blurred. Switch it off to be seen.",
};

interface SlideProps {
  label: string;
  value: number;
  min: number;
  max: number;
  onValue: (value: number) => void;
}

const Slide = ({ label, value, min, max, onValue }: SlideProps) => (
  <Box sx={{ px: 1 }}>
    <Typography variant="body2" aria-hidden>
      {label}
    </Typography>
    <Slider
      size="small"
      aria-label={label}
      value={value}
      min={min}
      max={max}
      getAriaValueText={(value) => `${value} %`}
      onChange={(_, value) => onValue(value as number)}
    />
  </Box>
);
