import { useState } from "react";
import { frameAt, momentOf } from "#core/recipe/frames";
import { SECOND, spokenLength, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";

interface Props {
  cut: Range;
  /** the ends of what is left out before it and after it */
  before: Micros;
  after: Micros;
  length: Micros;
  top: number;
  at: (clientX: number) => Micros;
  onMove: (next: Range) => void;
}

/**
 * How all handles look, for what they stand in: an edit may have hundreds, and a component with styles of its own for
 * each would take most of the time in which the page opens.
 */
export const HANDLES = {
  "& .cut-handle": {
    position: "absolute",
    bottom: 0,
    width: 24,
    cursor: "ew-resize",
    touchAction: "none",
    zIndex: 2,
  },
  "& .cut-handle.from": { ml: "-24px" },
  // An arch that leans on what is left out.
  "& .cut-handle::before": {
    content: '""',
    position: "absolute",
    top: "50%",
    mt: "-16px",
    width: 12,
    height: 32,
    bgcolor: "text.primary",
  },
  "& .cut-handle.from::before": { right: 0, borderRadius: "12px 0 0 12px" },
  "& .cut-handle.to::before": { left: 0, borderRadius: "0 12px 12px 0" },
  "& .cut-handle::after": {
    content: '""',
    position: "absolute",
    top: 0,
    bottom: 0,
    width: "2px",
    bgcolor: "text.primary",
  },
  "& .cut-handle.from::after": { right: 0 },
  "& .cut-handle.to::after": { left: 0 },
} as const;

/** Frames for each key. */
const STEPS: Record<string, number> = { ArrowLeft: -1, ArrowRight: 1, PageDown: -30, PageUp: 30 };

/** The two ends of what is left out. At the very ends of the line there is one. */
export function CutHandle({ cut, before, after, length, ...rest }: Props) {
  const handle = { ...rest, length };
  return (
    <>
      {cut.from > 0 && (
        <Handle
          {...handle}
          side="from"
          moment={cut.from}
          least={before}
          most={cut.to}
          name={cut.to >= length ? "Where it ends" : "Where this is left out from"}
          onTo={(from) => rest.onMove({ from, to: cut.to })}
        />
      )}
      {cut.to < length && (
        <Handle
          {...handle}
          side="to"
          moment={cut.to}
          least={cut.from}
          most={after}
          name={cut.from <= 0 ? "Where it begins" : "Where it goes on after this"}
          onTo={(to) => rest.onMove({ from: cut.from, to })}
        />
      )}
    </>
  );
}

interface HandleProps {
  side: "from" | "to";
  name: string;
  moment: Micros;
  least: Micros;
  most: Micros;
  length: Micros;
  top: number;
  at: (clientX: number) => Micros;
  onTo: (moment: Micros) => void;
}

function Handle({ side, name, moment, least, most, length, top, at, onTo }: HandleProps) {
  const [dragged, setDragged] = useState<Micros | null>(null);
  const shown = dragged ?? moment;
  const within = (to: Micros) => Math.max(least, Math.min(most, to));
  return (
    <div
      role="slider"
      data-own-keys
      tabIndex={0}
      aria-label={name}
      aria-valuemin={Math.round(least / SECOND)}
      aria-valuemax={Math.max(Math.round(least / SECOND), Math.round(most / SECOND))}
      aria-valuenow={Math.round(shown / SECOND)}
      aria-valuetext={`at ${spokenLength(shown)}`}
      onKeyDown={(event) => {
        const step = STEPS[event.key];
        if (step === undefined || event.ctrlKey || event.metaKey) return;
        event.preventDefault();
        const to = within(momentOf(frameAt(moment) + step * (event.shiftKey ? 10 : 1)));
        if (to !== moment) onTo(to);
      }}
      onPointerDown={(event) => {
        event.stopPropagation();
        event.currentTarget.setPointerCapture(event.pointerId);
        setDragged(moment);
      }}
      onPointerMove={(event) => {
        if (dragged === null) return;
        event.stopPropagation();
        setDragged(within(at(event.clientX)));
      }}
      onPointerUp={(event) => {
        event.stopPropagation();
        if (dragged !== null && dragged !== moment) onTo(dragged);
        setDragged(null);
      }}
      onPointerCancel={() => setDragged(null)}
      className={`cut-handle ${side}`}
      style={{ left: `${(100 * shown) / length}%`, top }}
    />
  );
}
