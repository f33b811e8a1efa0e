import { takeOf } from "../recipe/source-line";
import type { ShownLine } from "../recipe/shown-line";
import { lastAt } from "../time/last-at";
import type { Micros } from "../time/micros";
import { kindOf, type TrackKind, type TrackName } from "../media/tracks";
import { DEFAULT_INSET, insetRect, type Corner, type Inset, type Rect } from "./layout";

/** The outline of a layer: its rectangle, or an arch in it, whose round top has half its width as radius. */
export const SHAPES = ["rectangle", "arch"] as const;
export type Shape = (typeof SHAPES)[number];

/** One picture track where it is drawn: its rectangle in shares of the frame, 0 to 1. */
export interface SceneLayer {
  track: TrackName;
  rect: Rect;
  shape: Shape;
}

/** What is drawn, from the bottom to the top. A track that is not in it is not seen. */
export interface Scene {
  layers: SceneLayer[];
}

/** A change of the scene while recording. No pixel is touched by it. */
export interface SceneEvent extends Scene {
  at: Micros;
}

/** Pictures of more tracks than a take can have are no scene. */
export const MOST_LAYERS = 8;

/** All of the frame. */
export const FULL: Rect = { x: 0, y: 0, width: 1, height: 1 };

/** One picture alone. */
export const alone = (track: TrackName): Scene => ({ layers: [{ track, rect: FULL, shape: "rectangle" }] });

/** The screen with the camera in its arch over it, where that is shown. */
export function sceneOf(frame: { width: number; height: number }, inset: Inset): Scene {
  const screen = alone("screen");
  if (!inset.shown) return screen;
  const { x, y, width, height } = insetRect(frame, inset);
  const rect = {
    x: x / frame.width,
    y: y / frame.height,
    width: width / frame.width,
    height: height / frame.height,
  };
  return { layers: [...screen.layers, { track: "camera", rect, shape: "arch" }] };
}

/** What a take begins with: the track by whose clock it plays, and a camera over a screen. */
export function firstScene(lead: TrackName, frame: { width: number; height: number }, hasCamera: boolean): Scene {
  return kindOf(lead) === "screen" && hasCamera ? sceneOf(frame, DEFAULT_INSET) : alone(lead);
}

/** The scene in force at a moment. Events are in order of time; before the first one it is `first`. */
export function sceneAt(events: readonly SceneEvent[], at: Micros, first: Scene): Scene {
  return events[lastAt(0, events.length, (i) => events[i]!.at <= at)] ?? first;
}

/** The layer of the first track of a kind; undefined where none is seen. */
export const layerOf = ({ layers }: Scene, kind: TrackKind): SceneLayer | undefined =>
  layers.find((layer) => kindOf(layer.track) === kind);

/** The same rectangle in another corner, as far from its edges. */
export function inCorner({ x, y, width, height }: Rect, corner: Corner): Rect {
  const side = Math.min(x, 1 - x - width);
  const edge = Math.min(y, 1 - y - height);
  return {
    x: corner.endsWith("left") ? side : 1 - side - width,
    y: corner.startsWith("top") ? edge : 1 - edge - height,
    width,
    height,
  };
}

/**
 * Scenes of the source line as they are shown: each kept stretch begins with the scene that was in force there.
 * @param first what each take begins with
 */
export function scenesAsShown(line: ShownLine, events: readonly SceneEvent[], first: Scene): SceneEvent[] {
  let shown = 0;
  return line.kept.flatMap(({ from, to }) => {
    const begins = shown;
    shown += to - from;
    const ofTake = events.filter((e) => takeOf(e.at) === takeOf(from));
    const within = ofTake.filter((e) => e.at > from && e.at < to).map((e) => ({ ...e, at: e.at - from + begins }));
    return [{ at: begins, layers: sceneAt(ofTake, from, first).layers }, ...within];
  });
}
