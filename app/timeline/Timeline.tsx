import Box from "@mui/material/Box";
import ButtonBase from "@mui/material/ButtonBase";
import Typography from "@mui/material/Typography";
import type { ReactNode } from "react";
import { formatClock, spokenLength, type Micros } from "#core/time/micros";

/** Something that stands at a moment or over a stretch. */
export interface Marked {
  key: string;
  at: Micros;
  until: Micros | null;
  label: string;
  sign: ReactNode;
  color: string;
  current?: boolean;
}

export interface Lane {
  name: string;
  /** one after the other, from edge to edge */
  chapters?: { at: Micros; title: string }[];
  marks?: Marked[];
  /** 0 to 1 over equal parts of the length */
  strip?: readonly number[];
}

interface Props {
  length: Micros;
  lanes: Lane[];
  /** a moment that is being chosen, with a handle that stretches it */
  draft?: { at: Micros; until: Micros | null; onStretch: (until: Micros | null) => void } | null;
  onSeek: (at: Micros) => void;
}

const HEIGHT = 22;
const percent = (at: Micros, length: Micros) => `${length > 0 ? Math.min(100, Math.max(0, (100 * at) / length)) : 0}%`;

/**
 * Stacked thin lanes on one time axis, the same wherever time is shown: chapters, comments, reactions, attention. Every
 * mark is a button.
 */
export function Timeline({ length, lanes, draft, onSeek }: Props) {
  return (
    <Box role="group" aria-label="Timeline" sx={{ display: "grid", gap: "2px", mb: 0.5, position: "relative" }}>
      {lanes.map((lane) => (
        <Box
          key={lane.name}
          role="group"
          aria-label={lane.name}
          data-lane={lane.name}
          sx={{
            position: "relative",
            height: lane.strip ? 12 : HEIGHT,
            borderBottom: "1px solid",
            borderColor: "mist",
          }}
        >
          {lane.chapters?.map((chapter, i, all) => (
            <ButtonBase
              key={chapter.at}
              onClick={() => onSeek(chapter.at)}
              aria-label={`Chapter ${chapter.title}, at ${spokenLength(chapter.at)}`}
              style={{
                left: percent(chapter.at, length),
                width: percent((all[i + 1]?.at ?? length) - chapter.at, length),
              }}
              sx={{
                position: "absolute",
                inset: "0 auto 0 auto",
                justifyContent: "flex-start",
                borderLeft: "1px solid",
                borderColor: "text.secondary",
                px: 0.5,
                overflow: "hidden",
                "&:hover": { bgcolor: "mist" },
              }}
            >
              <Typography component="span" noWrap sx={{ fontSize: 12.5, color: "text.secondary" }}>
                {chapter.title}
              </Typography>
            </ButtonBase>
          ))}
          {lane.strip && <Strip values={lane.strip} />}
          {lane.marks?.map((m) => (
            <Mark key={m.key} mark={m} length={length} onSeek={onSeek} />
          ))}
        </Box>
      ))}
      {draft && <Draft {...draft} length={length} />}
    </Box>
  );
}

/** How much of something there is along a length, as tone and height together. */
export function Strip({ values, color = "primary.main" }: { values: readonly number[]; color?: string }) {
  return (
    <Box aria-hidden sx={{ position: "absolute", inset: 0, color }}>
      <svg
        width="100%"
        height="100%"
        viewBox={`0 0 ${values.length} 1`}
        preserveAspectRatio="none"
        shapeRendering="crispEdges"
        style={{ display: "block" }}
      >
        {values.map(
          (v, i) =>
            v > 0 && (
              <rect
                key={i}
                x={i}
                y={1 - Math.max(0.08, v)}
                width={1.03}
                height={Math.max(0.08, v)}
                fill="currentColor"
                opacity={0.35 + 0.65 * v}
              />
            ),
        )}
      </svg>
    </Box>
  );
}

function Mark({ mark, length, onSeek }: { mark: Marked; length: Micros; onSeek: (at: Micros) => void }) {
  return (
    <>
      {mark.until !== null && (
        <Box
          aria-hidden
          style={{ left: percent(mark.at, length), width: percent(mark.until - mark.at, length) }}
          sx={{ position: "absolute", bottom: 0, height: 4, bgcolor: mark.color, opacity: 0.5 }}
        />
      )}
      <ButtonBase
        onClick={() => onSeek(mark.at)}
        aria-label={`${mark.label}, at ${spokenLength(mark.at)}`}
        title={`${formatClock(mark.at)} ${mark.label}`}
        style={{ left: percent(mark.at, length) }}
        sx={{
          position: "absolute",
          top: 0,
          minWidth: 24,
          height: HEIGHT,
          ml: "-12px",
          color: mark.color,
          bgcolor: mark.current ? "mist" : undefined,
          zIndex: 1,
          "&:hover, &:focus-visible": { bgcolor: "mist", zIndex: 2 },
        }}
      >
        {mark.sign}
      </ButtonBase>
    </>
  );
}

const STEP: Micros = 1_000_000;

/** The chosen moment, and the handle at its end: dragged, or moved with the arrow keys. */
function Draft({ at, until, onStretch, length }: NonNullable<Props["draft"]> & { length: Micros }) {
  const end = until ?? at;
  const stretch = (to: Micros) => {
    const kept = Math.min(length, Math.round(to));
    onStretch(kept - at < STEP / 4 ? null : kept);
  };
  return (
    <Box sx={{ position: "absolute", inset: 0, pointerEvents: "none" }}>
      <Box
        style={{ left: percent(at, length), width: percent(end - at, length) }}
        sx={{
          position: "absolute",
          top: 0,
          bottom: 0,
          bgcolor: "marigold.main",
          opacity: 0.22,
          borderLeft: "2px solid",
          borderColor: "marigold.main",
        }}
      />
      <Box
        role="slider"
        data-own-keys
        tabIndex={0}
        aria-label="End of the stretch"
        aria-valuemin={Math.round(at / STEP)}
        aria-valuemax={Math.max(Math.round(at / STEP), Math.round(length / STEP))}
        aria-valuenow={Math.round(end / STEP)}
        aria-valuetext={until === null ? "only this moment" : `until ${spokenLength(end)}`}
        title="Drag to make it a stretch"
        onKeyDown={(e) => {
          const by = {
            ArrowRight: STEP,
            ArrowLeft: -STEP,
            ArrowUp: STEP,
            ArrowDown: -STEP,
            PageUp: 5 * STEP,
            PageDown: -5 * STEP,
          }[e.key];
          if (by === undefined) return;
          e.preventDefault();
          stretch(end + by);
        }}
        onPointerDown={(e) => e.currentTarget.setPointerCapture(e.pointerId)}
        onPointerMove={(e) => {
          if (!e.currentTarget.hasPointerCapture(e.pointerId)) return;
          const axis = e.currentTarget.parentElement!.getBoundingClientRect();
          stretch(((e.clientX - axis.left) / axis.width) * length);
        }}
        style={{ left: percent(end, length) }}
        sx={{
          position: "absolute",
          top: 0,
          bottom: 0,
          width: 24,
          ml: "-2px",
          cursor: "ew-resize",
          pointerEvents: "auto",
          touchAction: "none",
          zIndex: 3,
          "&::before": {
            content: '""',
            position: "absolute",
            left: 0,
            top: "50%",
            mt: "-11px",
            width: 12,
            height: 22,
            bgcolor: "marigold.main",
            borderRadius: "0 50% 50% 0",
          },
        }}
      />
    </Box>
  );
}
