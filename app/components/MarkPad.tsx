import Box from "@mui/material/Box";
import InputBase from "@mui/material/InputBase";
import { useEffect, useRef, useState, type KeyboardEvent, type PointerEvent } from "react";
import {
  MARK_TEXT_MAX,
  OUTLINE,
  thinned,
  type Mark,
  type MarkColour,
  type SeenMark,
  type Tool,
} from "#core/layout/mark";
import type { Size } from "#core/layout/layout";
import type { Micros } from "#core/time/micros";
import { Marks } from "./Marks";

/** A mark that is being drawn: when its first point was, as it is told and on the page's clock. */
interface Draft {
  at: Micros;
  began: number;
  mark: Mark;
}

/** By keys: a step of the cross, in shares of the picture. */
const STEP = 0.02;
const STEPS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};
/** The two bars of the cross, and what sets them off. */
const BAR = `linear-gradient(${OUTLINE.outer},${OUTLINE.outer})`;
const HALO = `drop-shadow(0 0 1px ${OUTLINE.inner})`;
const within = (share: number) => Math.round(10_000 * Math.max(0, Math.min(1, share))) / 10_000;

interface Props {
  /** the shape of the picture under it */
  frame: Size;
  /** what is drawn there already */
  seen: readonly SeenMark[];
  drawing: boolean;
  tool: Tool;
  colour: MarkColour;
  /** how long a mark stays; null until something else ends it */
  staysMs: number | null;
  now: () => Micros;
  /** something was drawn. @param at when its first point was */
  onDraw: (at: Micros, mark: Mark) => void;
}

/**
 * Shows what is drawn on a picture, and takes what is drawn now: with a pointer, or by keys, which move a cross and put
 * it down and up with Enter.
 */
export function MarkPad({ frame, seen, drawing, tool, colour, staysMs, now, onDraw }: Props) {
  const pad = useRef<HTMLDivElement>(null);
  const [draft, setDraft] = useState<Draft | null>(null);
  const [typing, setTyping] = useState<Draft | null>(null);
  const [cross, setCross] = useState<readonly [number, number] | null>(null);
  useEffect(() => {
    if (drawing) return;
    setDraft(null);
    setTyping(null);
    setCross(null);
  }, [drawing]);

  const begin = (x: number, y: number): void => {
    const mark: Mark = { tool, colour, path: [x, y, 0], text: "", staysMs, clearedAt: null };
    const begun = { at: now(), began: performance.now(), mark };
    if (tool === "text") return setTyping(begun);
    if (tool === "number") return onDraw(begun.at, mark);
    setDraft(begun);
  };
  const goOn = (points: readonly (readonly [number, number])[]): void => {
    if (!draft) return;
    const { path } = draft.mark;
    const ms = Math.max(path.at(-1)!, Math.round(performance.now() - draft.began));
    const more = points.flatMap(([x, y]) => [x, y, ms]);
    // Of a shape only its two ends count.
    const next =
      tool === "pen" || tool === "highlighter" ? [...path, ...more] : [...path.slice(0, 3), ...more.slice(-3)];
    setDraft({ ...draft, mark: { ...draft.mark, path: thinned(next) } });
  };
  const end = (): void => {
    if (draft && draft.mark.path.length > 3) onDraw(draft.at, draft.mark);
    setDraft(null);
  };
  const write = (text: string): void => {
    if (typing && text.trim()) onDraw(typing.at, { ...typing.mark, text: text.trim() });
    setTyping(null);
  };

  const at = ({ clientX, clientY }: { clientX: number; clientY: number }): readonly [number, number] => {
    const box = pad.current!.getBoundingClientRect();
    return [within((clientX - box.x) / box.width), within((clientY - box.y) / box.height)];
  };
  const press = (event: KeyboardEvent): void => {
    const step = STEPS[event.key];
    const from = cross ?? ([0.5, 0.5] as const);
    if (step) {
      const next = [within(from[0] + step[0]), within(from[1] + step[1])] as const;
      setCross(next);
      goOn([next]);
    } else if (event.key === "Enter") {
      setCross(from);
      if (draft) end();
      else begin(...from);
    } else if (event.key === "Escape" && draft) setDraft(null);
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  const all = draft ? [...seen, { id: "draft", mark: draft.mark, opacity: 1 }] : seen;
  return (
    <Box
      ref={pad}
      {...(drawing && {
        role: "application",
        "aria-label": "Draw on the picture: arrow keys move the cross, Enter puts it down and up",
        tabIndex: 0,
        onKeyDown: press,
        onPointerDown: (event: PointerEvent) => {
          if (event.button !== 0 || typing) return;
          event.currentTarget.setPointerCapture(event.pointerId);
          // Words begin when it is let go: the press itself takes the keys away from what is written in.
          if (tool !== "text") begin(...at(event));
        },
        onPointerMove: ({ nativeEvent }: PointerEvent) => goOn(coalesced(nativeEvent).map(at)),
        onPointerUp: (event: PointerEvent) => (tool === "text" && !typing ? begin(...at(event)) : end()),
        onPointerCancel: () => setDraft(null),
      })}
      sx={{
        position: "absolute",
        inset: 0,
        cursor: drawing ? "crosshair" : "default",
        touchAction: drawing ? "none" : "auto",
        pointerEvents: drawing ? "auto" : "none",
        outlineOffset: "-3px",
      }}
    >
      <Marks seen={all} frame={frame} />
      {cross && drawing && (
        <Box
          aria-hidden
          data-testid="cross"
          style={{ left: `${100 * cross[0]}%`, top: `${100 * cross[1]}%` }}
          sx={{
            position: "absolute",
            width: 21,
            height: 21,
            m: "-10px",
            pointerEvents: "none",
            background: ["3px 100%", "100% 3px"].map((size) => `${BAR} center/${size} no-repeat`).join(),
            filter: `${HALO} ${HALO}`,
          }}
        />
      )}
      {typing && (
        <InputBase
          autoFocus
          placeholder="Write, then Enter"
          inputProps={{ "aria-label": "Text of the mark", maxLength: MARK_TEXT_MAX }}
          onKeyDown={(event) => {
            event.stopPropagation();
            const input = event.target as HTMLInputElement;
            if (event.key === "Escape") input.value = "";
            // It is written when it loses the keys, in whatever way.
            if (event.key === "Escape" || event.key === "Enter") pad.current?.focus();
          }}
          onBlur={(event) => write(event.target.value)}
          onPointerDown={(event) => event.stopPropagation()}
          style={{ left: `${100 * typing.mark.path[0]!}%`, top: `${100 * typing.mark.path[1]!}%` }}
          sx={{
            position: "absolute",
            transform: "translateY(-100%)",
            bgcolor: "background.paper",
            border: "1px solid",
            px: 1,
            width: 220,
            maxWidth: "60%",
          }}
        />
      )}
    </Box>
  );
}

/** Every place that the pointer came by since the last event, where the browser tells. */
const coalesced = (event: globalThis.PointerEvent): readonly globalThis.PointerEvent[] => {
  const all = event.getCoalescedEvents?.() ?? [];
  return all.length > 0 ? all : [event];
};
