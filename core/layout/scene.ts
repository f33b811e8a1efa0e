import { lastAt } from "../time/last-at";
import type { Micros } from "../time/micros";
import { union, type RangeSet } from "../time/ranges";
import { kindOf, type TrackKind, type TrackName } from "../media/tracks";
import {
  ARCH_HEIGHT,
  besideRects,
  insetRect,
  marginOf,
  onGrid,
  TILE_HEIGHT,
  USUAL_ARRANGEMENT,
  type Arrangement,
  type Place,
  type Rect,
  type Size,
} from "./layout";

/**
 * The outline of a layer: its rectangle, in which the whole picture fits; or an arch, whose round top has half its
 * width as radius, or a tile, each of which the picture covers.
 */
export const SHAPES = ["rectangle", "arch", "tile"] as const;
export type Shape = (typeof SHAPES)[number];
/** What a picture that lies over another one, or beside it, may look like. */
export const INSET_SHAPES = ["arch", "tile"] as const;
export type InsetShape = (typeof INSET_SHAPES)[number];

/** One picture track where it is drawn: its rectangle in shares of the frame, 0 to 1. */
export interface SceneLayer {
  track: TrackName;
  rect: Rect;
  shape: Shape;
}

/** What is drawn, from the bottom to the top. A track that is not in it is not seen. */
export interface Scene {
  layers: SceneLayer[];
  /** how long it takes to come, in place of the one before; nothing for at once */
  fade?: Micros;
}

/** A change that the eye follows: short, so that nothing is missed. */
export const USUAL_FADE: Micros = 250_000;
/** The longest that a scene takes to come. */
export const MOST_FADE: Micros = 2_000_000;

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

/** What an arrangement of screen and camera looks like in a frame of the screen's shape. */
export function sceneOf(frame: Size, arrangement: Arrangement, shape: InsetShape = "arch"): Scene {
  const { scene } = arrangement;
  if (scene === "screen" || scene === "camera") return alone(scene);
  const tall = shape === "arch" ? ARCH_HEIGHT : TILE_HEIGHT;
  const { screen, camera } =
    scene === "beside"
      ? besideRects(frame, arrangement, tall)
      : { screen: { x: 0, y: 0, ...frame }, camera: insetRect(frame, arrangement, tall) };
  return {
    layers: [
      { track: "screen", rect: inShares(frame, screen), shape: "rectangle" },
      { track: "camera", rect: inShares(frame, camera), shape },
    ],
  };
}

const inShares = (frame: Size, { x, y, width, height }: Rect): Rect => ({
  x: x / frame.width,
  y: y / frame.height,
  width: width / frame.width,
  height: height / frame.height,
});

/** What a take begins with: a camera over a screen, the one of them that it has, or nothing to see. */
export function firstScene(frame: Size, { screen, camera }: { screen: boolean; camera: boolean }): Scene {
  if (screen && camera) return sceneOf(frame, USUAL_ARRANGEMENT);
  return screen || camera ? alone(screen ? "screen" : "camera") : { layers: [] };
}

/** The scene in force at a moment. Events are in order of time; before the first one it is `first`. */
export function sceneAt(events: readonly SceneEvent[], at: Micros, first: Scene): Scene {
  return events[lastAt(0, events.length, (i) => events[i]!.at <= at)] ?? first;
}

/** The end of what has none: longer than any recording, and a number in JSON. */
export const NO_END: Micros = 1e15;

/** When a track is seen: from where a scene has it to where it has faded away. @param events in order */
export function visibleIn(events: readonly SceneEvent[], track: TrackName): RangeSet {
  return union(
    events.flatMap(({ at, layers }, i) => {
      if (!layers.some((layer) => layer.track === track)) return [];
      const next = events[i + 1];
      return [{ from: at, to: next ? next.at + (next.fade ?? 0) : NO_END }];
    }),
  );
}

/** The layer of the first track of a kind; undefined where none is seen. */
export const layerOf = ({ layers }: Scene, kind: TrackKind): SceneLayer | undefined =>
  layers.find((layer) => kindOf(layer.track) === kind);

/** Does the camera lie over the screen, so that it may hide something of it? */
export function isInset(scene: Scene): boolean {
  const [below, above] = scene.layers;
  return below?.rect.width === 1 && above !== undefined && above.shape !== "rectangle";
}

/** A rectangle of this size at another place of a frame, as far from its edges as an inset. */
export function atPlace(frame: Size, { width, height }: Rect, place: Place): Rect {
  const { column, row } = onGrid(place);
  const margin = marginOf(frame);
  const along = (side: number, length: number, step: number) => side + (step / 2) * (1 - 2 * side - length);
  return {
    x: along(margin / frame.width, width, column),
    y: along(margin / frame.height, height, row),
    width,
    height,
  };
}
