import { memo } from "react";
import { drawingOf, DRAWING_WIDTH, type Drawn } from "#core/layout/drawing";
import type { Mark, SeenMark } from "#core/layout/mark";
import type { Size } from "#core/layout/layout";

const ROUND = { strokeLinecap: "round", strokeLinejoin: "round" } as const;
const TABULAR = { fontVariantNumeric: "tabular-nums" } as const;

interface Props {
  seen: readonly SeenMark[];
  /** the shape of the picture that they lie on */
  frame: Size;
  /** where a picture among them is, by its id; there are none where that is not told */
  pictureAt?: (id: string) => string;
}

/** What a presenter drew, over the picture that it was drawn on. */
export function Marks({ seen, frame, pictureAt }: Props) {
  const height = (DRAWING_WIDTH * frame.height) / frame.width;
  return (
    <svg
      data-testid="marks"
      viewBox={`0 0 ${DRAWING_WIDTH} ${height}`}
      preserveAspectRatio="none"
      role="img"
      aria-label={seen.length > 0 ? `Drawn: ${seen.map(({ mark }) => nameOf(mark)).join(", ")}` : undefined}
      aria-hidden={seen.length === 0}
      style={{ position: "absolute", inset: 0, width: "100%", height: "100%", pointerEvents: "none" }}
    >
      {seen.map(({ id, mark, opacity }) => (
        <g key={id} data-tool={mark.tool} opacity={opacity}>
          <Shape mark={mark} height={height} pictureAt={mark.tool === "picture" ? pictureAt : undefined} />
        </g>
      ))}
    </svg>
  );
}

const nameOf = ({ tool, text }: Mark) =>
  text && tool !== "picture" ? `${tool === "number" ? "number " : ""}${text}` : tool;

/** Drawn again only while it is being drawn. */
const Shape = memo(function Shape({
  mark,
  height,
  pictureAt,
}: { mark: Mark; height: number } & Pick<Props, "pictureAt">) {
  const { opacity, parts } = drawingOf(mark, height);
  return (
    <g opacity={opacity}>
      {parts.map((part, i) => (
        <Part key={i} part={part} pictureAt={pictureAt} />
      ))}
    </g>
  );
});

function Part({ part, pictureAt }: { part: Drawn } & Pick<Props, "pictureAt">) {
  if ("picture" in part)
    return pictureAt && <image href={pictureAt(part.picture)} {...part.place} preserveAspectRatio="xMidYMid meet" />;
  const { fill, stroke, width, at } = part;
  const look = { fill, stroke, strokeWidth: width, ...ROUND };
  if ("d" in part) return <path d={part.d} transform={at && `translate(${at[0]} ${at[1]})`} {...look} />;
  const { words, size, middle } = part;
  const place = { x: part.at[0], y: part.at[1], textAnchor: middle ? ("middle" as const) : undefined };
  return (
    <text {...place} fontSize={size} fontWeight={600} style={TABULAR} {...look} aria-hidden={stroke ? true : undefined}>
      {words}
    </text>
  );
}
