import { getStroke } from "perfect-freehand";
import { memo } from "react";
import { COLOUR_OF, OUTLINE, type Mark, type SeenMark } from "#core/layout/mark";
import type { Size } from "#core/layout/layout";

/** The width of the frame in the unit of everything here. */
const WIDTH = 1000;
/** How far each of the two lines of the outline stands out. */
const EDGE = 1.25;
/** The width of lines. */
const LINE = 5.5;
const ROUND = { strokeLinecap: "round", strokeLinejoin: "round" } as const;

interface Props {
  seen: readonly SeenMark[];
  /** the shape of the picture that they lie on */
  frame: Size;
  /** where a picture among them is, by its id; there are none where that is not told */
  pictureAt?: (id: string) => string;
}

/** What a presenter drew, over the picture that it was drawn on. */
export function Marks({ seen, frame, pictureAt }: Props) {
  const height = (WIDTH * frame.height) / frame.width;
  return (
    <svg
      data-testid="marks"
      viewBox={`0 0 ${WIDTH} ${height}`}
      preserveAspectRatio="none"
      role="img"
      aria-label={seen.length > 0 ? `Drawn: ${seen.map(({ mark }) => nameOf(mark)).join(", ")}` : undefined}
      aria-hidden={seen.length === 0}
      style={{ position: "absolute", inset: 0, width: "100%", height: "100%", pointerEvents: "none" }}
    >
      {seen.map(({ id, mark, opacity }) => (
        <g key={id} data-tool={mark.tool} opacity={opacity}>
          {mark.tool === "picture" ? (
            pictureAt && <Picture mark={mark} height={height} href={pictureAt(mark.text)} />
          ) : (
            <Shape mark={mark} height={height} />
          )}
        </g>
      ))}
    </svg>
  );
}

const nameOf = ({ tool, text }: Mark) =>
  text && tool !== "picture" ? `${tool === "number" ? "number " : ""}${text}` : tool;

/** A picture between its two points, whole. */
function Picture({ mark, height, href }: { mark: Mark; height: number; href: string }) {
  const points = pointsOf(mark, height);
  const [[ax, ay], [bx, by]] = [points[0]!, points.at(-1)!];
  const place = { x: Math.min(ax, bx), y: Math.min(ay, by), width: Math.abs(ax - bx), height: Math.abs(ay - by) };
  return <image href={href} {...place} preserveAspectRatio="xMidYMid meet" />;
}

/** Drawn again only while it is being drawn. */
const Shape = memo(function Shape({ mark, height }: { mark: Mark; height: number }) {
  const { tool, colour, text } = mark;
  const points = pointsOf(mark, height);
  const [first, last] = [points[0]!, points.at(-1)!];
  const fill = COLOUR_OF[colour];
  switch (tool) {
    case "pen":
      return <Stroke points={points} size={10} fill={fill} />;
    case "highlighter":
      return (
        <g opacity={0.4}>
          <Stroke points={points} size={26} fill={fill} flat />
        </g>
      );
    case "arrow":
      return <Lined fill={fill} d={arrowPath(first, last)} />;
    case "box":
      return <Lined fill={fill} d={`M${first[0]} ${first[1]}H${last[0]}V${last[1]}H${first[0]}Z`} />;
    case "ellipse":
      return <Lined fill={fill} d={ellipsePath(first, last)} />;
    case "number":
      return (
        <g transform={`translate(${first[0]} ${first[1]})`}>
          <Filled d={ARCH} fill={fill} />
          <text y={10} textAnchor="middle" fontSize={24} fontWeight={600} fill={onTop(mark)} style={TABULAR}>
            {text}
          </text>
        </g>
      );
    case "text":
      return (
        <g fontSize={30} fontWeight={600} transform={`translate(${first[0]} ${first[1]})`}>
          {EDGES.map(([stroke, edge]) => (
            <text key={stroke} stroke={stroke} strokeWidth={4 * edge} fill={stroke} aria-hidden {...ROUND}>
              {text}
            </text>
          ))}
          <text fill={fill}>{text}</text>
        </g>
      );
  }
});

/** An arch on a straight foot, as everything of ours that points at something. */
const ARCH = "M-17 20V-3A17 17 0 0 1 17-3V20Z";
/** Each line of the outline, and how far it stands out. */
const EDGES = [
  [OUTLINE.outer, 2 * EDGE],
  [OUTLINE.inner, EDGE],
] as const;
const TABULAR = { fontVariantNumeric: "tabular-nums" } as const;
/** Light on the dark colours, dark on the light ones. */
const onTop = ({ colour }: Mark) => (colour === "marigold" || colour === "leaf" ? OUTLINE.outer : OUTLINE.inner);

type Point = [x: number, y: number];
const pointsOf = ({ path }: Mark, height: number): Point[] =>
  Array.from({ length: path.length / 3 }, (_, i) => [path[3 * i]! * WIDTH, path[3 * i + 1]! * height]);

interface StrokeProps {
  points: Point[];
  size: number;
  fill: string;
  /** as wide everywhere */
  flat?: boolean;
}

function Stroke({ points, size, fill, flat = false }: StrokeProps) {
  const outline = getStroke(points, { size, thinning: flat ? 0 : 0.25, smoothing: 0.5, streamline: 0.4 });
  const d = outline.map(([x, y], i) => `${i === 0 ? "M" : "L"}${x!.toFixed(1)} ${y!.toFixed(1)}`).join("") + "Z";
  return <Filled d={d} fill={fill} />;
}

/** A shape that is set off from what is under it. */
const Filled = ({ d, fill }: { d: string; fill: string }) => (
  <>
    {EDGES.map(([stroke, edge]) => (
      <path key={stroke} d={d} fill={stroke} stroke={stroke} strokeWidth={2 * edge} {...ROUND} />
    ))}
    <path d={d} fill={fill} />
  </>
);

/** A line of even width that is set off from what is under it. */
const Lined = ({ d, fill }: { d: string; fill: string }) => (
  <>
    {EDGES.map(([stroke, edge]) => (
      <path key={stroke} d={d} fill="none" stroke={stroke} strokeWidth={LINE + 2 * edge} {...ROUND} />
    ))}
    <path d={d} fill="none" stroke={fill} strokeWidth={LINE} {...ROUND} />
  </>
);

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
