import PlayArrow from "@mui/icons-material/PlayArrow";
import Box from "@mui/material/Box";
import Button from "@mui/material/Button";
import Typography from "@mui/material/Typography";
import useMediaQuery from "@mui/material/useMediaQuery";
import { lazy, Suspense, useEffect, useRef, useState, type ReactNode } from "react";
import type { Place, Size } from "#core/layout/layout";
import { alone, atPlace, isInset, layerOf, sceneAt, type Scene } from "#core/layout/scene";
import { marksAt } from "#core/layout/mark";
import { formatClock } from "#core/time/micros";
import type { Layer, Playable } from "#server/playback/playback";
import { archRadius } from "../components/Arch";
import { kept } from "../kept";
import { InsetArch } from "../components/InsetArch";
import { layerStyle } from "../components/place";
import { ControlBar } from "./ControlBar";
import { onPlayerKey, type KeyRow } from "./keys";
import { KeysDialog } from "./KeysDialog";
import type { Opening } from "./early";
import type { Player } from "./player";
import { usePlayerState } from "./usePlayer";

/** Most recordings have none: what draws them is not asked for before there is one. */
const Marks = lazy(() => import("../components/Marks").then(({ Marks }) => ({ default: Marks })));

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
  /** keys that the page has of its own, for the list; those of comments and reactions are not there then */
  keys?: readonly KeyRow[];
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
  keys: more = [],
}: Props) {
  const { layers, lead, scenes, marks, durationUs } = playable;
  const { token } = opening;
  const state = usePlayerState(player);
  const root = useRef<HTMLDivElement>(null);
  const [keys, setKeys] = useState(false);
  const [place, setPlace] = useState<Place | null>(null);
  const [hidden, setHidden] = useState(false);
  const [captioned, setCaptioned] = useState(false);
  useEffect(() => setCaptioned(kept.get(CAPTIONS) === "on"), []);
  const toggleCaptions = () =>
    setCaptioned((on) => {
      kept.set(CAPTIONS, on ? "off" : "on");
      return !on;
    });
  const cue = captioned ? captions.find((c) => c.from <= state.time && state.time < c.to) : undefined;
  const deeds = useRef({ comment: onComment, react: onReact });
  deeds.current = { comment: onComment, react: onReact };
  const frame = playable.frame ?? SOUND_ONLY;
  const hasCamera = layers.some((l) => l.role === "camera");
  const sounds = layers.map((l) => l.role).filter((role) => role === "voice" || role === "sound");
  const scene = sceneAt(scenes, state.time, alone(lead));
  const main = scene.layers.find((l) => l.track === lead);
  const camera = cameraOf(scene, frame, state.started, hidden, place);
  const fade = useFade(scene, state.playing);
  const shownDuration = state.duration || durationUs;
  const cameraBelow = hasCamera && camera?.shape === "arch";
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
        flex: { md: 1 },
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
          flex: { md: 1 },
          minHeight: { md: 140 },
          containerType: { md: "size" },
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
              md: "min(100cqw, calc(100cqh * var(--wide)))",
            },
            ":fullscreen &": { width: "min(100cqw, calc(100cqh * var(--wide)))" },
            mx: "auto",
            // The camera stands below: a screen that is beside it has all the width.
            "@media (max-width: 600px)": cameraBelow ? { "& > [data-main]": WHOLE } : {},
          }}
        >
          <video
            ref={attach("main")}
            data-layer="main"
            data-main
            aria-label={`${title}, main picture`}
            playsInline
            preload="auto"
            poster={hasPoster && (!state.started || !playable.frame) ? `/w/${token}/poster.jpg` : undefined}
            onClick={() => player?.toggle()}
            style={{
              position: "absolute",
              ...layerStyle(state.started ? main : alone(lead).layers[0], fade),
              objectFit: "contain",
            }}
          />
          {marks.length > 0 && main && state.started && (
            <Box
              data-main
              sx={{ position: "absolute", zIndex: 1, pointerEvents: "none" }}
              style={layerStyle(main, fade)}
            >
              <Suspense>
                <Marks seen={marksAt(marks, state.time)} frame={frame} />
              </Suspense>
            </Box>
          )}
          {sounds.map((role) => (
            <audio key={role} ref={attach(role)} data-layer={role} preload="auto" />
          ))}
          {hasCamera && (
            <CameraPlace>
              <InsetArch layer={camera} fade={fade} onDrop={setPlace}>
                <video
                  ref={attach("camera")}
                  data-layer="camera"
                  aria-label={`${title}, camera`}
                  playsInline
                  muted
                  preload="auto"
                />
              </InsetArch>
            </CameraPlace>
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
          <Over
            state={state}
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
function cameraOf(scene: Scene, frame: Size, started: boolean, hidden: boolean, place: Place | null) {
  const layer = layerOf(scene, "camera");
  if (!layer || !started || (hidden && scene.layers.length > 1)) return null;
  return place && isInset(scene) ? { ...layer, rect: atPlace(frame, layer.rect, place) } : layer;
}

/** How long the scene takes to come, in ms: nothing where a person jumps to it, or wants no motion. */
function useFade({ fade = 0 }: Scene, playing: boolean): number {
  const still = useMediaQuery("(prefers-reduced-motion: reduce)");
  return playing && !still ? fade / 1000 : 0;
}

/** Over the screen where there is room; on a narrow screen the camera picture stands under it. */
function CameraPlace({ children }: { children: React.ReactNode }) {
  return (
    <Box
      sx={{
        display: "contents",
        "@media (max-width: 600px)": {
          "& > [data-shape=arch]": {
            left: "50% !important",
            top: "100% !important",
            width: "130px !important",
            height: "150px !important",
            ml: "-65px",
            mt: 1,
            borderRadius: archRadius,
          },
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
}: {
  state: { started: boolean; waiting: boolean; problem: string | null; time: number; growing: boolean };
  length: number;
  ready: boolean;
  onPlay: () => void;
  resumes: boolean;
}) {
  if (!state.started) {
    return (
      <Box sx={{ position: "absolute", inset: 0, display: "grid", placeItems: "center" }}>
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
  const words = state.problem ?? (state.waiting ? (state.growing ? "Waiting for the next seconds" : "Loading") : null);
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
