import Mic from "@mui/icons-material/Mic";
import Box from "@mui/material/Box";
import type { Corner, Inset } from "#core/layout/layout";
import { layerOf, sceneOf } from "#core/layout/scene";
import { showsScreen, type TakeSource } from "#core/media/tracks";
import { InsetArch } from "../components/InsetArch";
import { TrackVideo } from "../components/TrackVideo";
import { SurfaceGuide } from "./SurfaceGuide";

const FRAME = { width: 16, height: 9 };
/** Frames a second. A screen: enough to see that it moves. A face: enough to look at oneself. */
const PREVIEW_RATE = { screen: 5, camera: 15 };

const sideOf = ({ shown, corner }: Inset) => (!shown ? null : corner.endsWith("left") ? "left" : "right");

/** What the viewers will see, in small: the screen as a pane, the camera picture in its arch. */
export function Stage({
  source,
  inset,
  screen,
  camera,
  onDrop,
}: {
  source: TakeSource;
  inset: Inset;
  screen: MediaStreamTrack | null;
  camera: MediaStreamTrack | null;
  onDrop: (corner: Corner) => void;
}) {
  const onScreen = showsScreen(source);
  return (
    <Box
      sx={{
        position: "relative",
        aspectRatio: "16 / 9",
        bgcolor: "background.paper",
        border: "1px solid",
        borderColor: "text.secondary",
        overflow: "hidden",
      }}
    >
      {onScreen && screen && (
        <Box sx={{ position: "absolute", inset: 0 }}>
          <TrackVideo track={screen} label="Screen preview" fit="contain" rate={PREVIEW_RATE.screen} />
        </Box>
      )}
      {onScreen && !screen && <SurfaceGuide clear={source === "screen-camera" ? sideOf(inset) : null} />}
      {source === "camera" &&
        (camera ? <TrackVideo track={camera} label="Camera preview" mirrored rate={PREVIEW_RATE.camera} /> : null)}
      {source === "voice" && (
        <Box sx={{ position: "absolute", inset: 0, display: "grid", placeItems: "center" }}>
          <Mic aria-label="Voice only" sx={{ fontSize: 64, color: "text.secondary" }} />
        </Box>
      )}
      {source === "screen-camera" && (
        <InsetArch rect={layerOf(sceneOf(FRAME, inset), "camera")?.rect ?? null} onDrop={onDrop}>
          {camera && <TrackVideo track={camera} label="Camera preview" mirrored rate={PREVIEW_RATE.camera} />}
        </InsetArch>
      )}
    </Box>
  );
}
