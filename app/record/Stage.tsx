import Mic from "@mui/icons-material/Mic";
import Box from "@mui/material/Box";
import type { ReactNode } from "react";
import type { LevelMeter } from "#capture/level-meter";
import type { Shared } from "#capture/recorder-state";
import { cropOf, wholeAround } from "#core/layout/area";
import { sideOf, type Arrangement, type Place, type Size } from "#core/layout/layout";
import { alone, FULL, layerOf, sceneOf, type SceneLayer } from "#core/layout/scene";
import { showsScreen, type TakeSource } from "#core/media/tracks";
import { InsetArch } from "../components/InsetArch";
import { layerStyle, placeStyle } from "../components/place";
import { TrackVideo } from "../components/TrackVideo";
import type { AreaDraft } from "./area";
import { AreaFrame } from "./AreaFrame";
import { LiveWave } from "./LiveWave";
import { SurfaceGuide } from "./SurfaceGuide";

const FRAME = { width: 16, height: 9 };
/** Frames a second. A screen: enough to see that it moves. A face: enough to look at oneself. */
const PREVIEW_RATE = { screen: 5, camera: 15 };

interface Props {
  source: TakeSource;
  arrangement: Arrangement;
  shared: Shared | null;
  /** where nothing is shown yet: what could be */
  guides: boolean;
  /** what of it is recorded is being chosen: all of it is seen, and nothing lies over it */
  area: AreaDraft | null;
  camera: MediaStreamTrack | null;
  /** of the microphone: a voice alone is seen by it */
  meter: LevelMeter | null;
  /** one sees oneself as in a mirror */
  mirrored: boolean;
  /** lies on the main picture: what is drawn there */
  pad: ((frame: Size) => ReactNode) | null;
  onDrop: (place: Place) => void;
}

/** What the viewers will see, in small: the screen as a pane, the camera picture in its arch. */
export function Stage({ source, arrangement, shared, guides, area, camera, meter, mirrored, pad, onDrop }: Props) {
  const frame = shared?.size ? cropOf(shared.size, area ? null : shared.area) : FRAME;
  const { width, height } = camera?.getSettings() ?? {};
  const face = width && height ? { width, height } : FRAME;
  const scene = source === "screen-camera" && !area ? sceneOf(frame, arrangement) : alone("screen");
  const covered = source === "screen-camera" && arrangement.scene !== "screen";
  return (
    <Box
      sx={{
        position: "relative",
        aspectRatio: `${FRAME.width} / ${FRAME.height}`,
        bgcolor: "background.paper",
        border: "1px solid",
        borderColor: "text.secondary",
        overflow: "hidden",
        containerType: "size",
      }}
    >
      {guides && showsScreen(source) && !shared && <SurfaceGuide clear={covered ? sideOf(arrangement.place) : null} />}
      {source === "camera" && camera && (
        <Box sx={{ position: "absolute", inset: 0, m: "auto", ...within(face) }}>
          <TrackVideo
            track={camera}
            label="Camera preview"
            fit="contain"
            mirrored={mirrored}
            rate={PREVIEW_RATE.camera}
          />
          {pad?.(face)}
        </Box>
      )}
      {source === "voice" && (
        <Box sx={{ position: "absolute", inset: 0, display: "grid", placeItems: "center" }}>
          {meter ? (
            <LiveWave meter={meter} />
          ) : (
            <Mic aria-label="Voice only" sx={{ fontSize: 64, color: "text.secondary" }} />
          )}
        </Box>
      )}
      {showsScreen(source) && (
        <Box
          sx={{
            position: "absolute",
            inset: 0,
            m: "auto",
            overflow: "hidden",
            ...within(frame),
            ...(shared && GROUND),
          }}
        >
          {shared && (
            <Screen shared={shared} area={area} layer={layerOf(scene, "screen")}>
              {pad?.(frame)}
            </Screen>
          )}
          {source === "screen-camera" && !area && (
            <InsetArch layer={layerOf(scene, "camera") ?? null} onDrop={onDrop}>
              {camera && (
                <TrackVideo
                  track={camera}
                  label="Camera preview"
                  fit={arrangement.scene === "camera" ? "contain" : "cover"}
                  mirrored={mirrored}
                  rate={PREVIEW_RATE.camera}
                />
              )}
            </InsetArch>
          )}
        </Box>
      )}
    </Box>
  );
}

/** What the player shows where a scene leaves something free. */
const GROUND = { bgcolor: "bar.main" };

/** A frame of this shape, whole, in its container. */
const within = ({ width, height }: Size) => ({
  aspectRatio: `${width} / ${height}`,
  width: `min(100cqw, calc(100cqh * ${width / height}))`,
});

interface ScreenProps {
  shared: Shared;
  area: AreaDraft | null;
  layer: SceneLayer | undefined;
  children: ReactNode;
}

function Screen({ shared, area, layer, children }: ScreenProps) {
  const video = <TrackVideo track={shared.screen} label="Screen preview" fit="contain" rate={PREVIEW_RATE.screen} />;
  if (area) return <AreaFrame draft={area}>{video}</AreaFrame>;
  return (
    <Box sx={{ position: "absolute", overflow: "hidden" }} style={layerStyle(layer, 0)}>
      <Box sx={{ position: "absolute" }} style={placeStyle(shared.area ? wholeAround(shared.area) : FULL)}>
        {video}
      </Box>
      {children}
    </Box>
  );
}
