import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Dialog from "@mui/material/Dialog";
import DialogActions from "@mui/material/DialogActions";
import DialogContent from "@mui/material/DialogContent";
import DialogTitle from "@mui/material/DialogTitle";
import Slider from "@mui/material/Slider";
import Typography from "@mui/material/Typography";
import { useCallback, useState } from "react";
import ReactCrop, { type PercentCrop } from "react-image-crop";
import "react-image-crop/dist/ReactCrop.css";
import type { Rect, Size } from "#core/layout/layout";
import { LEAST_SIDE, MOST_TILT, nearerBy, turnedSize, TURNS, WHOLE, type Turn, type View } from "#core/layout/view";
import { AREA_LABELS, AREA_LOOKS } from "../components/area-looks";

interface Props {
  title: string;
  /** the element that shows the picture now */
  video: HTMLVideoElement;
  view: View;
  /** the part has the shape of the picture, which stays as it is turned */
  locked?: boolean;
  onDone: (view: View) => void;
  onClose: () => void;
}

/** A part of a picture, chosen in it by dragging or by keys; and which way up the picture is. */
export function CropDialog({ title, video, view, locked = false, onDone, onClose }: Props) {
  const [{ turn, tilt, crop }, setView] = useState(view);
  const size = turnedSize(sizeOf(video), turn);
  const draw = useCallback(
    (sheet: HTMLCanvasElement | null) => {
      if (sheet) drawTurned(sheet, video, turn, tilt);
    },
    [video, turn, tilt],
  );
  const turnBy = (by: number) => {
    const next = TURNS[(TURNS.indexOf(turn) + by + TURNS.length) % TURNS.length]!;
    setView({ turn: next, tilt, crop: WHOLE });
  };
  const least = 100 * LEAST_SIDE;
  return (
    <Dialog open onClose={onClose} maxWidth="md" fullWidth>
      <DialogTitle>{title}</DialogTitle>
      <DialogContent sx={{ display: "grid", gap: 2, justifyItems: "center", "&&": { pt: 1.5 } }}>
        <Box
          sx={{ ...AREA_LOOKS, lineHeight: 0, maxHeight: "56vh" }}
          style={{
            aspectRatio: `${size.width} / ${size.height}`,
            width: `min(100%, calc(56vh * ${size.width / size.height}))`,
          }}
        >
          <ReactCrop
            keepSelection
            ruleOfThirds={tilt !== 0}
            ariaLabels={AREA_LABELS}
            aspect={locked ? size.width / size.height : undefined}
            crop={inPercent(crop)}
            minWidth={12}
            minHeight={12}
            onChange={(_, part) =>
              part.width >= least && part.height >= least && setView({ turn, tilt, crop: inShares(part) })
            }
          >
            <canvas ref={draw} style={{ width: "100%", height: "100%", display: "block" }} />
          </ReactCrop>
        </Box>
        {!locked && (
          <Box sx={{ display: "flex", flexWrap: "wrap", gap: 1, alignItems: "center", width: 1 }}>
            <Button size="small" variant="outlined" onClick={() => turnBy(-1)}>
              Turn left
            </Button>
            <Button size="small" variant="outlined" onClick={() => turnBy(1)}>
              Turn right
            </Button>
            <Typography variant="body2" id="straighten" sx={{ ml: 1 }}>
              Straighten
            </Typography>
            <Slider
              data-own-keys
              size="small"
              aria-labelledby="straighten"
              min={-MOST_TILT}
              max={MOST_TILT}
              step={0.5}
              value={tilt}
              valueLabelDisplay="auto"
              valueLabelFormat={degrees}
              getAriaValueText={degrees}
              onChange={(_, next) => setView({ turn, tilt: next as number, crop })}
              sx={{ width: 180, mx: 1 }}
            />
            <Button size="small" onClick={() => setView({ turn: 0, tilt: 0, crop: WHOLE })}>
              As it was recorded
            </Button>
          </Box>
        )}
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Cancel</Button>
        <Button variant="contained" onClick={() => onDone({ turn, tilt, crop })}>
          {locked ? "Zoom into this" : "Show this"}
        </Button>
      </DialogActions>
    </Dialog>
  );
}

/** While nothing of it is here, of a usual shape. */
const sizeOf = (video: HTMLVideoElement): Size => ({ width: video.videoWidth || 16, height: video.videoHeight || 9 });
const degrees = (value: number) => `${value}°`;
const inPercent = ({ x, y, width, height }: Rect): PercentCrop => ({
  unit: "%",
  x: 100 * x,
  y: 100 * y,
  width: 100 * width,
  height: 100 * height,
});
const inShares = ({ x, y, width, height }: PercentCrop): Rect => ({
  x: x / 100,
  y: y / 100,
  width: width / 100,
  height: height / 100,
});

/** No larger than it is seen. Pixels */
const WIDEST = 1280;

function drawTurned(sheet: HTMLCanvasElement, video: HTMLVideoElement, turn: Turn, tilt: number): void {
  const size = turnedSize(sizeOf(video), turn);
  const scale = Math.min(1, WIDEST / Math.max(size.width, size.height));
  [sheet.width, sheet.height] = [Math.round(size.width * scale), Math.round(size.height * scale)];
  const pen = sheet.getContext("2d", { alpha: false })!;
  pen.translate(sheet.width / 2, sheet.height / 2);
  pen.rotate(((turn + tilt) * Math.PI) / 180);
  const nearer = scale * nearerBy(size, tilt);
  pen.scale(nearer, nearer);
  pen.drawImage(video, -video.videoWidth / 2, -video.videoHeight / 2);
}
