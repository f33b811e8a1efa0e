import { getStroke } from "perfect-freehand";
import type { Rect } from "./layout";
import { COLOUR_OF, OUTLINE, type Mark } from "./mark";

/** What is drawn is told in a unit of which the picture that it lies on is so many wide. */
export const DRAWING_WIDTH = 1000;

export type Point = [x: number, y: number];

/** A shape or a line, by the path data of SVG. */
export interface DrawnPath {
  d: string;
  /** where its own zero lies; the picture's, where that is not told */
  at?: Point;
  fill: string;
  stroke?: string;
  width?: number;
}
/** Words that begin at a point, or have it as their middle. */
export interface DrawnWords {
  words: string;
  at: Point;
  /** the height of the letters' square */
  size: number;
  middle?: true;
  fill: string;
  stroke?: string;
  width?: number;
}
/** A picture by its id: whole, within its place. */
export interface DrawnPicture {
  picture: string;
  place: Rect;
}
export type Drawn = DrawnPath | DrawnWords | DrawnPicture;

/** A mark as it is drawn, from the bottom to the top. */
export interface Drawing {
  opacity: number;
  parts: Drawn[];
}

/** How far each of the two lines of the outline stands out. */
const EDGE = 1.25;
/** The width of lines. */
const LINE = 5.5;
/** Each line of the outline, and how far it stands out. */
const EDGES = [
  [OUTLINE.outer, 2 * EDGE],
  [OUTLINE.inner, EDGE],
] as const;
const MARKER_OPACITY = 0.4;
/** An arch on a straight foot, as everything of ours that points at something. */
const ARCH = "M-17 20V-3A17 17 0 0 1 17-3V20Z";

/** How a mark is drawn on a picture of a height, in the unit of drawings. */
export function drawingOf(mark: Mark, height: number): Drawing {
  const { tool, colour, text } = mark;
  const points = pointsOf(mark, height);
  const [first, last] = [points[0]!, points.at(-1)!];
  const fill = COLOUR_OF[colour];
  const whole = (parts: Drawn[]): Drawing => ({ opacity: 1, parts });
  switch (tool) {
    case "pen":
      return whole(filled(strokePath(points, 10), fill));
    case "highlighter":
      return { opacity: MARKER_OPACITY, parts: filled(strokePath(points, 26, true), fill) };
    case "arrow":
      return whole(lined(arrowPath(first, last), fill));
    case "box":
      return whole(lined(`M${first[0]} ${first[1]}H${last[0]}V${last[1]}H${first[0]}Z`, fill));
    case "ellipse":
      return whole(lined(ellipsePath(first, last), fill));
    case "number": {
      const at: Point = [first[0], first[1] + 10];
      const words: DrawnWords = { words: text, at, size: 24, middle: true, fill: onTop(mark) };
      return whole([...filled(ARCH, fill).map((path) => ({ ...path, at: first })), words]);
    }
    case "text": {
      const words = { words: text, at: first, size: 30 };
      const edges = EDGES.map(([stroke, edge]) => ({ ...words, fill: stroke, stroke, width: 4 * edge }));
      return whole([...edges, { ...words, fill }]);
    }
    case "picture":
      return whole([{ picture: text, place: between(first, last) }]);
  }
}

/** Light on the dark colours, dark on the light ones. */
const onTop = ({ colour }: Mark) => (colour === "marigold" || colour === "leaf" ? OUTLINE.outer : OUTLINE.inner);

const pointsOf = ({ path }: Mark, height: number): Point[] =>
  Array.from({ length: path.length / 3 }, (_, i) => [path[3 * i]! * DRAWING_WIDTH, path[3 * i + 1]! * height]);

const between = ([ax, ay]: Point, [bx, by]: Point): Rect => ({
  x: Math.min(ax, bx),
  y: Math.min(ay, by),
  width: Math.abs(ax - bx),
  height: Math.abs(ay - by),
});

/** A shape that is set off from what is under it. */
const filled = (d: string, fill: string): DrawnPath[] => [
  ...EDGES.map(([stroke, edge]) => ({ d, fill: stroke, stroke, width: 2 * edge })),
  { d, fill },
];

/** A line of even width that is set off from what is under it. */
const lined = (d: string, colour: string): DrawnPath[] => [
  ...EDGES.map(([stroke, edge]) => ({ d, fill: "none", stroke, width: LINE + 2 * edge })),
  { d, fill: "none", stroke: colour, width: LINE },
];

/** @param flat as wide everywhere */
function strokePath(points: Point[], size: number, flat = false): string {
  const outline = getStroke(points, { size, thinning: flat ? 0 : 0.25, smoothing: 0.5, streamline: 0.4 });
  return outline.map(([x, y], i) => `${i === 0 ? "M" : "L"}${x!.toFixed(1)} ${y!.toFixed(1)}`).join("") + "Z";
}

function arrowPath([ax, ay]: Point, [bx, by]: Point): string {
  const angle = Math.atan2(by - ay, bx - ax);
  const head = Math.min(26, 6 + 0.4 * Math.hypot(bx - ax, by - ay));
  const wing = (turn: number) => `${bx - head * Math.cos(angle + turn)} ${by - head * Math.sin(angle + turn)}`;
  return `M${ax} ${ay}L${bx} ${by}M${wing(0.5)}L${bx} ${by}L${wing(-0.5)}`;
}

function ellipsePath([ax, ay]: Point, [bx, by]: Point): string {
  const [rx, ry] = [Math.abs(bx - ax) / 2, Math.abs(by - ay) / 2];
  const [left, right, middle] = [Math.min(ax, bx), Math.max(ax, bx), (ay + by) / 2];
  return `M${left} ${middle}A${rx} ${ry} 0 0 1 ${right} ${middle}A${rx} ${ry} 0 0 1 ${left} ${middle}Z`;
}
