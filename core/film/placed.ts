import type { Rect } from "../layout/layout";
import type { Scene, SceneEvent, Shape } from "../layout/scene";
import { WHOLE, ZOOM_TAKES } from "../layout/view";
import type { TrackName } from "../media/tracks";
import { lastAt } from "../time/last-at";
import type { Micros } from "../time/micros";
import type { Range } from "../time/ranges";
import { EASE, EASE_IN_OUT } from "./easing";

/** A picture at a moment: where it lies in the frame, and how much of it is seen. */
export interface Placed {
  track: TrackName;
  /** in shares of the frame */
  rect: Rect;
  shape: Shape;
  /** 1 is whole, 0 is gone */
  opacity: number;
}

/** How pictures lie as time passes: scenes, each with how long it takes to come. */
export class Arranging {
  /** @param events in order, in shown time */
  constructor(private readonly events: readonly SceneEvent[]) {}

  /** When something moves, or is at once another way: that is an empty stretch. */
  get moving(): Range[] {
    return this.events.slice(1).map(({ at, fade = 0 }) => ({ from: at, to: at + fade }));
  }

  /** The pictures that are seen at a moment, from the bottom to the top. */
  at(moment: Micros): Placed[] {
    const i = lastAt(0, this.events.length, (n) => this.events[n]!.at <= moment);
    if (i < 0) return [];
    const { layers } = this.events[i]!;
    const going = (this.events[i - 1]?.layers ?? []).filter(({ track }) => !has({ layers }, track));
    return [...layers, ...going].flatMap(({ track }) => this.#placed(i, track, moment) ?? []);
  }

  /** One that begins before another has come goes on from where that is. */
  #placed(i: number, track: TrackName, moment: Micros): Placed | null {
    const { at, fade = 0, layers } = this.events[i]!;
    const layer = layers.find((l) => l.track === track);
    const here = layer && { ...layer, opacity: 1 };
    if (i === 0 || moment - at >= fade) return here ?? null;
    const before = this.#placed(i - 1, track, at);
    const come = EASE((moment - at) / fade);
    // What is not there any more stays where it was, and fades; what was not there before comes in its place.
    if (!here) return before && { ...before, opacity: before.opacity * (1 - come) };
    if (!before) return { ...here, opacity: come };
    return { ...here, rect: between(before.rect, here.rect, come), opacity: mixed(before.opacity, 1, come) };
  }
}

const has = ({ layers }: Scene, track: TrackName) => layers.some((layer) => layer.track === track);

/** How near a picture is: the place of it that fills its rectangle, as time passes. */
export class Nearing {
  /** the places, each from a moment on */
  readonly #changes: { at: Micros; place: Rect }[];

  /** @param zooms in order, none over another, in shown time */
  constructor(zooms: readonly (Range & { place: Rect })[]) {
    this.#changes = zooms.flatMap(({ from, to, place }, i) => [
      { at: from, place },
      ...(zooms[i + 1]?.from === to ? [] : [{ at: to, place: WHOLE }]),
    ]);
  }

  get moving(): Range[] {
    return this.#changes.map(({ at }) => ({ from: at, to: at + ZOOM_TAKES }));
  }

  /** The place that fills the rectangle at a moment. */
  at(moment: Micros): Rect {
    const i = lastAt(0, this.#changes.length, (n) => this.#changes[n]!.at <= moment);
    return i < 0 ? WHOLE : this.#place(i, moment);
  }

  /** A page moves its scale and its corner, evenly with each other. */
  #place(i: number, moment: Micros): Rect {
    const { at, place } = this.#changes[i]!;
    if (moment - at >= ZOOM_TAKES) return place;
    const before = i === 0 ? WHOLE : this.#place(i - 1, at);
    const come = EASE_IN_OUT((moment - at) / ZOOM_TAKES);
    const side = 1 / mixed(1 / before.width, 1 / place.width, come);
    return { x: mixed(before.x, place.x, come), y: mixed(before.y, place.y, come), width: side, height: side };
  }
}

const mixed = (a: number, b: number, share: number) => a + (b - a) * share;

const between = (a: Rect, b: Rect, share: number): Rect => ({
  x: mixed(a.x, b.x, share),
  y: mixed(a.y, b.y, share),
  width: mixed(a.width, b.width, share),
  height: mixed(a.height, b.height, share),
});
