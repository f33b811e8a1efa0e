import Box from "@mui/material/Box";
import { useCallback, useEffect, useLayoutEffect, useMemo, useRef, type PointerEvent } from "react";
import { formatClock, spokenLength, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { Player } from "../player/player";
import { usePlayerValue } from "../player/usePlayer";
import { Timeline, type Lane } from "../timeline/Timeline";
import { drawLine, FILM, RULER, WAVE, WORDS, type Words } from "./draw-line";
import { CutHandle, HANDLES } from "./CutHandle";
import type { TakeLook } from "./useLooks";

interface Props {
  player: Player | null;
  length: Micros;
  takes: ReadonlyMap<number, Range>;
  /** what is left out, in recorded time */
  cuts: readonly Range[];
  looks: readonly TakeLook[];
  /** what is said, in recorded time; none where nobody has written it down */
  words: readonly Words[];
  lanes: Lane[];
  /** how many times wider than what is seen */
  zoom: number;
  chosen: Range | null;
  onChoose: (stretch: Range | null) => void;
  /** the moment that is near and worth stopping at; within so much of it */
  snap: (at: Micros, within: Micros) => Micros;
  /** an end of what is left out was moved */
  onMove: (cut: Range, next: Range) => void;
  onSeek: (at: Micros) => void;
}

/** A press that goes no farther is a press, not a stretch. Pixels */
const STEADY = 4;
/** A hand is this exact. Pixels */
const NEAR = 8;

/** The line of an edit: pictures and sounds of all takes, what is left out of them, and what is marked on them. */
export function EditLine(props: Props) {
  const { player, length, takes, cuts, looks, words, lanes, zoom, chosen, onChoose, snap, onMove, onSeek } = props;
  const scroller = useRef<HTMLDivElement>(null);
  const canvas = useRef<HTMLCanvasElement>(null);
  const hasSound = looks.some((look) => look.sound);
  const height = RULER + FILM + WAVE * (hasSound ? 2 : 1) + (words.length > 0 ? WORDS : 0);
  const percent = (at: Micros) => `${length > 0 ? (100 * at) / length : 0}%`;

  const draw = useCallback(() => {
    const [box, sheet] = [scroller.current!, canvas.current!];
    const pen = sheet.getContext("2d")!;
    const width = box.clientWidth;
    const dense = window.devicePixelRatio;
    if (sheet.width !== Math.round(width * dense) || sheet.height !== height * dense) {
      sheet.width = Math.round(width * dense);
      sheet.height = height * dense;
      sheet.style.width = `${width}px`;
      sheet.style.height = `${height}px`;
    }
    pen.setTransform(dense, 0, 0, dense, 0, 0);
    // When the sheet has its width: a wider one would have stretched what is told of the box.
    const { scrollLeft, scrollWidth } = box;
    const from = (scrollLeft / scrollWidth) * length;
    const view = { from, to: from + (width / scrollWidth) * length, width, height };
    drawLine(pen, view, { looks, takes, cuts, words, hasSound, colours: coloursOf(sheet) });
  }, [looks, takes, cuts, words, hasSound, height, length]);

  useLayoutEffect(() => {
    draw();
    const box = scroller.current!;
    let asked = 0;
    const later = () => {
      cancelAnimationFrame(asked);
      asked = requestAnimationFrame(draw);
    };
    const resized = new ResizeObserver(later);
    resized.observe(box);
    box.addEventListener("scroll", later, { passive: true });
    return () => {
      cancelAnimationFrame(asked);
      resized.disconnect();
      box.removeEventListener("scroll", later);
    };
  }, [draw, zoom]);

  useFollow(scroller, player, length, zoom);

  const at = (clientX: number, within = NEAR) => {
    const box = scroller.current!;
    const wide = box.scrollWidth;
    const left = clientX - box.getBoundingClientRect().left + box.scrollLeft;
    return snap(Math.max(0, Math.min(length, (left / wide) * length)), (within / wide) * length);
  };
  const press = useRef<{ x: number; from: Micros; drags: boolean } | null>(null);
  const begin = (event: PointerEvent) => {
    if (event.button !== 0) return;
    event.currentTarget.setPointerCapture(event.pointerId);
    press.current = { x: event.clientX, from: at(event.clientX), drags: false };
  };
  const move = (event: PointerEvent) => {
    const pressed = press.current;
    if (!pressed) return;
    if (!pressed.drags && Math.abs(event.clientX - pressed.x) < STEADY) return;
    pressed.drags = true;
    const to = at(event.clientX);
    onChoose({ from: Math.min(pressed.from, to), to: Math.max(pressed.from, to) });
  };
  const end = (event: PointerEvent) => {
    const pressed = press.current;
    press.current = null;
    if (!pressed || pressed.drags) return;
    const there = at(event.clientX, 0);
    onChoose(cuts.find((cut) => cut.from <= there && there < cut.to) ?? null);
    onSeek(at(event.clientX));
  };

  // Both ends of the whole can be moved, also where nothing is left out there yet.
  const ends = useMemo((): Range[] => {
    const out = [...cuts];
    if (out[0]?.from !== 0) out.unshift({ from: 0, to: 0 });
    if (out.at(-1)!.to < length) out.push({ from: length, to: length });
    return out;
  }, [cuts, length]);

  return (
    <Box
      ref={scroller}
      data-testid="line"
      sx={{ overflowX: "auto", overflowY: "hidden", border: "1px solid", borderColor: "mist" }}
    >
      <Box style={{ width: `${100 * zoom}%` }} sx={{ position: "relative", minWidth: "100%" }}>
        <Box
          role="group"
          aria-label="What was recorded"
          onPointerDown={begin}
          onPointerMove={move}
          onPointerUp={end}
          onPointerCancel={() => (press.current = null)}
          style={{ height }}
          // A finger on the pictures chooses; on the ruler and below it moves the line.
          sx={{ ...HANDLES, position: "relative", touchAction: "pan-y", cursor: "text", bgcolor: "background.paper" }}
        >
          <Box
            component="canvas"
            ref={canvas}
            aria-hidden
            sx={{ position: "sticky", left: 0, display: "block", color: "text.primary" }}
          />
          <Box
            onPointerDown={(event) => event.pointerType === "touch" && event.stopPropagation()}
            onClick={(event) => onSeek(at(event.clientX))}
            sx={{ position: "absolute", inset: `0 0 auto 0`, height: RULER, touchAction: "pan-x" }}
          />
          {chosen && (
            <Box
              data-testid="chosen"
              aria-label={`Chosen: from ${spokenLength(chosen.from)} to ${spokenLength(chosen.to)}`}
              role="img"
              style={{ left: percent(chosen.from), width: percent(chosen.to - chosen.from) }}
              sx={{
                position: "absolute",
                top: RULER,
                bottom: 0,
                border: "2px solid",
                borderColor: "marigold.main",
                bgcolor: "rgba(201,133,0,.18)",
                pointerEvents: "none",
              }}
            />
          )}
          {ends.map((cut, i) => (
            <CutHandle
              key={i}
              cut={cut}
              before={ends[i - 1]?.to ?? 0}
              after={ends[i + 1]?.from ?? length}
              length={length}
              top={RULER}
              at={at}
              onMove={(next) => onMove(cut, next)}
            />
          ))}
          <Playhead player={player} length={length} />
        </Box>
        <Timeline length={length} lanes={lanes} onSeek={onSeek} />
      </Box>
    </Box>
  );
}

function Playhead({ player, length }: { player: Player | null; length: Micros }) {
  const time = usePlayerValue(player, (s) => s.time);
  return (
    <Box
      aria-hidden
      data-testid="playhead"
      title={formatClock(time)}
      style={{ left: `${length > 0 ? (100 * time) / length : 0}%` }}
      sx={{
        position: "absolute",
        top: 0,
        bottom: 0,
        width: "2px",
        ml: "-1px",
        bgcolor: "clay.main",
        pointerEvents: "none",
        zIndex: 3,
      }}
    />
  );
}

/** What is played stays in view, and what is in the middle stays there when it gets wider. */
function useFollow(
  scroller: React.RefObject<HTMLDivElement | null>,
  player: Player | null,
  length: Micros,
  zoom: number,
) {
  useLayoutEffect(() => {
    const box = scroller.current!;
    const time = player?.snapshot().time ?? 0;
    box.scrollLeft = (time / length) * box.scrollWidth - box.clientWidth / 2;
  }, [scroller, player, length, zoom]);
  useEffect(() => {
    if (!player) return;
    let seeks = player.snapshot().seeks;
    return player.subscribe(() => {
      const state = player.snapshot();
      if (!state.playing && state.seeks === seeks) return;
      seeks = state.seeks;
      const box = scroller.current;
      if (!box) return;
      const x = (state.time / length) * box.scrollWidth - box.scrollLeft;
      if (x < 0 || x > box.clientWidth) box.scrollLeft += x - box.clientWidth * 0.2;
    });
  }, [scroller, player, length]);
}

/** Those of the theme that is in force. */
function coloursOf(sheet: HTMLCanvasElement) {
  const style = getComputedStyle(sheet);
  const of = (name: string) => style.getPropertyValue(`--mui-palette-${name}`).trim();
  return {
    ink: style.color,
    wave: of("primary-main"),
    sound: of("marigold-main"),
    out: of("text-secondary"),
    ground: of("background-paper"),
  };
}
