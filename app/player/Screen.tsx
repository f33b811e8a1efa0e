import PlayArrow from "@mui/icons-material/PlayArrow";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import useMediaQuery from "@mui/material/useMediaQuery";
import { lazy, Suspense, useEffect, useRef, useState, type ReactNode } from "react";
import type { Place, Size } from "#core/layout/layout";
import { holdingAt } from "#core/recipe/as-shown";
import { alone, atPlace, isInset, layerOf, sceneAt, type Scene, type SceneLayer } from "#core/layout/scene";
import type { Viewed as ViewedTrack } from "#core/recipe/dress";
import { marksAt } from "#core/layout/mark";
import { ZOOM_TAKES } from "#core/layout/view";
import { formatClock } from "#core/time/micros";
import type { Layer, Playable } from "#server/playback/playback";
import { archRadius } from "../components/Arch";
import { kept } from "../kept";
import { InsetArch } from "../components/InsetArch";
import { layerStyle, useLastSeen } from "../components/place";
import { ControlBar } from "./ControlBar";
import { onPlayerKey, type KeyRow } from "./keys";
import { KeysDialog } from "./KeysDialog";
import type { Opening } from "./early";
import type { Player } from "./player";
import type { PlayerState } from "./player-state";
import { usePlayerState } from "./usePlayer";
import { Viewed, Zoomed } from "./Viewed";

/** Most recordings have none: what draws them is not asked for before there is one. */
const Marks = lazy(() => import("../components/Marks").then(({ Marks }) => ({ default: Marks })));
const CardView = lazy(() => import("./CardView").then(({ CardView }) => ({ default: CardView })));

const SOUND_ONLY = { width: 16, height: 5 };

export interface Cue {
  from: number;
  to: number;
  text: string;
}

interface Props {
  player: Player | null;
  attach: (role: Layer["role"]) => (element: HTMLMediaElement | null) => void;
  opening: Opening;
  playable: Playable;
  hasPoster: boolean;
  title: string;
  captions: Cue[];
  /** the lanes of the timeline, under the slider and on its axis */
  lanes: ReactNode;
  onComment?: () => void;
  onReact?: (place: number) => void;
  /** where the pictures of marks are; where they are for whoever watches, if that is not told */
  pictureAt?: (id: string) => string;
  /** somebody works at it: a picture that is seen is not covered by what starts it */
  editing?: boolean;
  /** on the main picture, where it is as near and as it is turned */
  over?: ReactNode;
  /** keys that the page has of its own, for the list; those of comments and reactions are not there then */
  keys?: readonly KeyRow[];
  /** it has a page of another site around it, and takes the room that it is given, however narrow that is */
  embedded?: boolean;
  /** captions are shown to whoever has not chosen yet */
  captioned?: boolean;
}

const CAPTIONS = "clear-nod-captions";

/** The layers of a recording, and the controls under them. */
export function Screen({
  player,
  attach,
  opening,
  playable,
  hasPoster,
  title,
  captions,
  lanes,
  onComment,
  onReact,
  pictureAt = (id) => `/w/${opening.token}/pictures/${id}`,
  editing = false,
  over,
  keys: more = [],
  embedded = false,
  captioned: captionsAtFirst = false,
}: Props) {
  const { layers, lead, scenes, marks, dress, durationUs } = playable;
  const { token } = opening;
  const state = usePlayerState(player);
  const root = useRef<HTMLDivElement>(null);
  const [keys, setKeys] = useState(false);
  const [place, setPlace] = useState<Place | null>(null);
  const [hidden, setHidden] = useState(false);
  const [captioned, setCaptioned] = useState(false);
  useEffect(() => {
    const chosen = kept.get(CAPTIONS);
    setCaptioned(chosen === null ? captionsAtFirst : chosen === "on");
  }, [captionsAtFirst]);
  const toggleCaptions = () =>
    setCaptioned((on) => {
      kept.set(CAPTIONS, on ? "off" : "on");
      return !on;
    });
  const cue = captioned ? captions.find((c) => c.from <= state.time && state.time < c.to) : undefined;
  const deeds = useRef({ comment: onComment, react: onReact });
  deeds.current = { comment: onComment, react: onReact };
  // Its layers are seen once somebody has played or sought: before that a poster stands there, where nobody edits.
  const rests = !state.started && state.seeks === 0;
  const live = editing || !rests;
  const frame = playable.frame ?? SOUND_ONLY;
  const cameraLayer = layers.find((l) => l.role === "camera");
  const hasCamera = cameraLayer !== undefined;
  const cameraSize = cameraLayer?.size ?? frame;
  const sounds = layers.map((l) => l.role).filter((role) => role === "voice" || role === "sound");
  const scene = sceneAt(scenes, state.time, alone(lead));
  const main = scene.layers.find((l) => l.track === lead);
  const camera = cameraOf(scene, frame, live, hidden, place);
  const moves = useMoves(state.playing);
  const fade = moves ? (scene.fade ?? 0) / 1000 : 0;
  const seenMain = live ? main : alone(lead).layers[0];
  const lastMain = useLastSeen(seenMain);
  const zoom = holdingAt(dress.zooms, state.time);
  const { opening: opens, closing: closes } = dress.cards;
  const card = opens && (state.opening || (rests && state.time === 0)) ? opens : state.ended ? closes : null;
  useEffect(() => player?.opensWith((opens?.stays ?? 0) / 1000), [player, opens]);
  const shownDuration = state.duration || durationUs;
  const cameraBelow = !embedded && hasCamera && camera !== null && camera.shape !== "rectangle";
  // From which width on it takes the room that is left, and is not as high as it wants.
  const fills = embedded ? "xs" : "md";
  const full = () => void (document.fullscreenElement ? document.exitFullscreen() : root.current?.requestFullscreen());

  useEffect(() => {
    if (!player) return;
    const press = (event: KeyboardEvent) => {
      const target = event.target as HTMLElement;
      // Space on a button presses the button; typing is typing.
      if (
        target.closest(
          "input:not([type=range]), textarea, [role=dialog], [role=listbox], [role=combobox], [contenteditable]",
        )
      )
        return;
      if (event.key === " " && target.closest("button, a, [role=button]")) return;
      // Sliders of their own keep their keys. (React listens at the same node, so stopping an event there does not stop
      // it here.)
      if (target.closest("[data-own-keys]")) return;
      if (
        onPlayerKey(event, player, {
          toggleCamera: () => setHidden((h) => !h),
          toggleFull: full,
          showKeys: () => setKeys(true),
          toggleCaptions,
          comment: () => deeds.current.comment?.(),
          react: (place) => deeds.current.react?.(place),
        })
      )
        event.preventDefault();
    };
    document.addEventListener("keydown", press);
    return () => document.removeEventListener("keydown", press);
  }, [player]);

  return (
    <Box
      ref={root}
      data-testid="player"
      data-opening={JSON.stringify(opening)}
      sx={{
        display: "flex",
        flexDirection: "column",
        flex: { [fills]: 1 },
        minHeight: 0,
        "&:fullscreen": { bgcolor: "bar.main" },
      }}
    >
      <Box
        sx={{
          display: "grid",
          placeItems: "center",
          bgcolor: "bar.main",
          // On a wide screen the picture takes the room that is left; its size is told by the room, not by the window.
          flex: { [fills]: 1 },
          minHeight: { [fills]: embedded ? 90 : 140 },
          containerType: { [fills]: "size" },
          ":fullscreen > &": { flex: 1, minHeight: 0, containerType: "size" },
          "@media (max-width: 600px)": { pb: cameraBelow ? "166px" : 0 },
        }}
      >
        {/* As wide as there is room, and never higher: the frame is the picture, so that the inset lies on it. */}
        <Box
          style={{ aspectRatio: `${frame.width} / ${frame.height}`, ["--wide" as string]: frame.width / frame.height }}
          sx={{
            position: "relative",
            width: {
              xs: "min(100%, calc((100vh - 350px) * var(--wide)))",
              [fills]: "min(100cqw, calc(100cqh * var(--wide)))",
            },
            ":fullscreen &": { width: "min(100cqw, calc(100cqh * var(--wide)))" },
            mx: "auto",
            // The camera stands below: a screen that is beside it has all the width.
            "@media (max-width: 600px)": cameraBelow ? { "& > [data-main]": WHOLE } : {},
          }}
        >
          <Box data-main sx={{ position: "absolute", overflow: "hidden" }} style={layerStyle(seenMain, fade, lastMain)}>
            <Zoomed place={live ? zoom?.place : undefined} ease={moves ? ZOOM_TAKES / 1000 : 0}>
              <Viewed view={live ? dress.views[lead as ViewedTrack] : undefined} picture={frame} box={frame} how="fit">
                <video
                  ref={attach("main")}
                  data-layer="main"
                  aria-label={`${title}, main picture`}
                  playsInline
                  preload="auto"
                  poster={hasPoster && (!live || !playable.frame) ? `/w/${token}/poster.jpg` : undefined}
                  onClick={() => player?.toggle()}
                  style={{ width: "100%", height: "100%", display: "block", objectFit: "contain" }}
                />
                {marks.length > 0 && main && live && (
                  <Suspense>
                    <Marks seen={marksAt(marks, state.time)} frame={frame} pictureAt={pictureAt} />
                  </Suspense>
                )}
                {over}
              </Viewed>
            </Zoomed>
          </Box>
          {sounds.map((role) => (
            <audio key={role} ref={attach(role)} data-layer={role} preload="auto" />
          ))}
          {hasCamera && (
            <CameraPlace leaves={!embedded}>
              <InsetArch layer={camera} fade={fade} onDrop={setPlace}>
                <Viewed
                  view={dress.views.camera}
                  picture={cameraSize}
                  box={boxOf(camera, frame)}
                  how={camera?.shape === "rectangle" ? "fit" : "cover"}
                >
                  <video
                    ref={attach("camera")}
                    data-layer="camera"
                    aria-label={`${title}, camera`}
                    playsInline
                    muted
                    preload="auto"
                  />
                </Viewed>
              </InsetArch>
            </CameraPlace>
          )}
          {card && (
            <Suspense>
              <CardView card={card} live />
            </Suspense>
          )}
          {cue && (
            <Typography
              data-testid="caption"
              sx={{
                position: "absolute",
                left: "50%",
                bottom: 10,
                transform: "translateX(-50%)",
                width: "max-content",
                maxWidth: "74%",
                bgcolor: "rgba(15,28,25,.88)",
                color: "#F7F5EF",
                px: 1.5,
                py: 0.5,
                textAlign: "center",
                zIndex: 3,
                pointerEvents: "none",
              }}
            >
              {cue.text}
            </Typography>
          )}
          {state.opening && (
            <Button
              onClick={() => player?.skipOpening()}
              sx={{
                position: "absolute",
                right: 8,
                bottom: 8,
                zIndex: 3,
                color: "inherit",
                bgcolor: "background.paper",
              }}
            >
              Go on
            </Button>
          )}
          <Over
            state={state}
            // Where somebody edits, nothing covers a picture that was sought.
            covers={!editing || rests}
            low={card !== null}
            length={shownDuration}
            ready={player !== null}
            onPlay={() => player?.play()}
            resumes={state.time > 0}
          />
        </Box>
      </Box>
      <ControlBar
        player={player}
        state={{ ...state, duration: shownDuration }}
        camera={hasCamera ? { shown: !hidden, toggle: () => setHidden(!hidden) } : null}
        captions={captions.length > 0 ? { on: captioned, toggle: toggleCaptions } : null}
        lanes={lanes}
        onFull={full}
        onKeys={() => setKeys(true)}
        compact={embedded}
      />
      <KeysDialog open={keys} answers={onReact !== undefined} more={more} onClose={() => setKeys(false)} />
    </Box>
  );
}

const WHOLE = {
  left: "0 !important",
  top: "0 !important",
  width: "100% !important",
  height: "100% !important",
};

/** Where the camera is drawn: a viewer may have it elsewhere, or not at all where there is something else to see. */
function cameraOf(scene: Scene, frame: Size, live: boolean, hidden: boolean, place: Place | null) {
  const layer = layerOf(scene, "camera");
  if (!layer || !live || (hidden && scene.layers.length > 1)) return null;
  return place && isInset(scene) ? { ...layer, rect: atPlace(frame, layer.rect, place) } : layer;
}

/** Do changes move? Not where a person jumps to them, or wants no motion. */
function useMoves(playing: boolean): boolean {
  const still = useMediaQuery("(prefers-reduced-motion: reduce)");
  return playing && !still;
}

/** The shape of the box that a layer has in a frame. */
const boxOf = (layer: SceneLayer | null, frame: Size): Size =>
  layer ? { width: layer.rect.width * frame.width, height: layer.rect.height * frame.height } : frame;

/** Over the screen where there is room; on a narrow screen the camera picture stands under it, where it `leaves`. */
function CameraPlace({ leaves, children }: { leaves: boolean; children: React.ReactNode }) {
  if (!leaves) return children;
  return (
    <Box
      sx={{
        display: "contents",
        "@media (max-width: 600px)": {
          "& > [data-shape=arch], & > [data-shape=tile]": {
            left: "50% !important",
            top: "100% !important",
            width: "130px !important",
            height: "150px !important",
            ml: "-65px",
            mt: 1,
          },
          "& > [data-shape=arch]": { borderRadius: archRadius },
          "& > [data-shape=tile]": { height: "98px !important" },
        },
      }}
    >
      {children}
    </Box>
  );
}

function Over({
  state,
  length,
  ready,
  onPlay,
  resumes,
  covers,
  low,
}: {
  state: Pick<PlayerState, "started" | "waiting" | "problem" | "without" | "time" | "growing">;
  length: number;
  ready: boolean;
  onPlay: () => void;
  resumes: boolean;
  /** a large button starts it */
  covers: boolean;
  /** words stand behind it */
  low: boolean;
}) {
  if (!state.started && covers) {
    return (
      <Box
        sx={{
          position: "absolute",
          inset: 0,
          display: "grid",
          placeItems: low ? "end center" : "center",
          pb: low ? 1.5 : 0,
        }}
      >
        <Button
          variant="contained"
          size="large"
          disabled={!ready}
          onClick={onPlay}
          startIcon={<PlayArrow />}
          sx={{ fontSize: "1.15rem", px: 3, py: 1.5, zIndex: 3 }}
        >
          {resumes ? `Go on at ${formatClock(state.time)}` : `Play, ${formatClock(length)}`}
        </Button>
      </Box>
    );
  }
  const waiting = state.waiting ? (state.growing ? "Waiting for the next seconds" : "Loading") : null;
  const words = state.problem ?? waiting ?? state.without;
  return (
    <Typography
      role="status"
      sx={{
        position: "absolute",
        left: 12,
        bottom: 12,
        bgcolor: "bar.main",
        color: "bar.contrastText",
        px: words ? 1.5 : 0,
        py: words ? 0.5 : 0,
        zIndex: 3,
      }}
    >
      {words}
    </Typography>
  );
}
