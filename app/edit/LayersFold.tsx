import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import { useState } from "react";
import { USUAL_ARRANGEMENT } from "#core/layout/layout";
import { INSET_SHAPES, USUAL_FADE, type InsetShape } from "#core/layout/scene";
import { AS_IT_IS, isAsItIs, placeToFill, type View } from "#core/layout/view";
import { VIEWED, type Arranged, type Dress, type Put, type Viewed } from "#core/recipe/dress";
import { inOrder, painted } from "#core/recipe/over";
import type { RecordedLine } from "#core/recipe/recorded-line";
import { formatClock, spokenLength, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Layer } from "#server/playback/playback";
import { Arrange } from "../components/Arrange";
import { Folded } from "../components/Folded";
import { OneOf } from "../components/OneOf";
import { CropDialog } from "./CropDialog";
import { showsBoth } from "./useDressed";

interface Props {
  dress: Dress;
  layers: readonly Layer[];
  line: RecordedLine;
  /** what the next press is about, in recorded time; all of it where nothing is chosen */
  stretch: Range;
  chosen: boolean;
  onPut: (puts: Put[]) => void;
  onSeek: (recorded: Micros) => void;
}

const SHAPE_NAMES: Record<InsetShape, string> = { arch: "Arch", tile: "Tile" };
const SHAPE_CHOICES = INSET_SHAPES.map((value) => ({ value, name: SHAPE_NAMES[value] }));
/** Where a place is looked for at first. */
const MIDDLE: View = { ...AS_IT_IS, crop: { x: 0.25, y: 0.25, width: 0.5, height: 0.5 } };
const PICTURE_NAMES: Record<Viewed, string> = { screen: "Screen", camera: "Camera" };
const USUAL: Arranged = { ...USUAL_ARRANGEMENT, shape: "arch", fade: USUAL_FADE };

/** How the pictures stand over each other, what of them is shown, and where they come nearer. */
export function LayersFold({ dress, layers, line, stretch, chosen, onPut, onSeek }: Props) {
  const [open, setOpen] = useState<Viewed | "zoom" | null>(null);
  const sources = line.toSource(stretch);
  const both = showsBoth(layers, stretch);
  const pictures = VIEWED.filter((name) => layers.some((layer) => layer.name === name));
  const [lead] = pictures;
  if (!lead) return null;
  const [first] = sources;
  const arranged = inOrder(dress.scenes).find(({ from, to }) => first && from < first.to && first.from < to)?.arranged;
  const now = arranged ?? USUAL;
  const arrange = (change: Partial<Arranged>) => {
    const next = { ...now, ...change };
    onPut(sources.flatMap((s) => putsOf("scenes", painted(dress.scenes ?? {}, s, { arranged: next }))));
  };
  const asRecorded = () => onPut(sources.flatMap((s) => putsOf("scenes", painted(dress.scenes ?? {}, s, null))));
  const zoom = ({ crop }: View) => {
    const place = placeToFill(crop);
    onPut(sources.flatMap((s) => putsOf("zooms", painted(dress.zooms ?? {}, s, { place }))));
  };
  const zooms = inOrder(dress.zooms);
  const counts = [
    ...(dress.scenes ? [`${Object.keys(dress.scenes).length} arranged`] : []),
    ...(zooms.length > 0 ? [`${zooms.length} nearer`] : []),
    ...(dress.views ? ["cut or turned"] : []),
  ];
  const video = open && document.querySelector<HTMLVideoElement>(`video[data-layer=${elementOf(open, layers, lead)}]`);
  return (
    <Folded later title="Layers" value={counts.length > 0 ? counts.join(", ") : "as recorded"}>
      <Typography variant="body2">
        {chosen
          ? `For the stretch that is chosen, from ${formatClock(stretch.from)} to ${formatClock(stretch.to)}`
          : "For all of it. Choose a stretch on the line for a part of it."}
      </Typography>
      {both && (
        <Box sx={{ display: "grid", gap: 1, justifyItems: "start" }}>
          <Arrange arrangement={now} onArrange={arrange} />
          {(now.scene === "inset" || now.scene === "beside") && (
            <OneOf
              label="Shape of the camera picture"
              value={now.shape}
              choices={SHAPE_CHOICES}
              onChoose={(shape) => arrange({ shape })}
            />
          )}
          {arranged && (
            <Button size="small" onClick={asRecorded}>
              As it was recorded
            </Button>
          )}
        </Box>
      )}
      <Box sx={{ display: "grid", gap: 0.5, justifyItems: "start" }}>
        <Button size="small" variant="outlined" disabled={!chosen} onClick={() => setOpen("zoom")}>
          Zoom into a place
        </Button>
        {!chosen && (
          <Typography variant="body2">A place comes nearer for a stretch: choose one on the line.</Typography>
        )}
        {zooms.map(({ from, to }) => (
          <Box key={from} sx={{ display: "flex", alignItems: "center", gap: 0.5 }}>
            <Button
              size="small"
              className="clock"
              aria-label={`Go to the zoom at ${spokenLength(line.at(from))}`}
              onClick={() => onSeek(line.at(from))}
              sx={{ px: 0.5 }}
            >
              {formatClock(line.at(from))}–{formatClock(line.at(from) + to - from)}
            </Button>
            nearer
            <Button size="small" onClick={() => onPut([{ facet: "zooms", id: String(from), value: null }])}>
              Take it away
            </Button>
          </Box>
        ))}
      </Box>
      <Box sx={{ display: "flex", gap: 1, flexWrap: "wrap" }}>
        {pictures.map((name) => (
          <Button key={name} size="small" variant="outlined" onClick={() => setOpen(name)}>
            Cut or turn: {PICTURE_NAMES[name]}
          </Button>
        ))}
      </Box>
      {dress.views && (
        <Typography variant="body2">
          What is cut away at the sides is not drawn, and still is in what is sent to whoever watches.
        </Typography>
      )}
      {open && video && (
        <CropDialog
          title={open === "zoom" ? "What comes nearer" : `${PICTURE_NAMES[open]}: what of it is shown`}
          video={video}
          view={open === "zoom" ? MIDDLE : (dress.views?.[open] ?? AS_IT_IS)}
          locked={open === "zoom"}
          onClose={() => setOpen(null)}
          onDone={(view) => {
            setOpen(null);
            if (open === "zoom") zoom(view);
            else onPut([{ facet: "views", id: open, value: isAsItIs(view) ? null : view }]);
          }}
        />
      )}
    </Folded>
  );
}

const putsOf = <P extends "scenes" | "zooms">(facet: P, puts: { id: string; value: object | null }[]) =>
  puts.map((put) => ({ facet, ...put })) as Put[];

/** Which element shows a picture: the camera is the main picture where it is alone. */
const elementOf = (of: Viewed | "zoom", layers: readonly Layer[], lead: Viewed) =>
  layers.find(({ name }) => name === (of === "zoom" ? lead : of))?.role ?? "main";
