import { LEVELS_A_SECOND } from "#core/audio/pauses";
import { FLOOR } from "#core/audio/level";
import { lastAt } from "#core/time/last-at";
import { formatClock, SECOND, type Micros } from "#core/time/micros";
import type { Range } from "#core/time/ranges";
import type { TakeLook } from "./useLooks";

/** Heights, from the top to the bottom. */
export const RULER = 20;
export const FILM = 48;
export const WAVE = 44;
export const WORDS = 20;

/** What is said in a stretch. */
export interface Words extends Range {
  text: string;
}

/** What of the line is seen. */
export interface View {
  /** recorded time at the left and the right edge */
  from: Micros;
  to: Micros;
  /** of the canvas, in its own pixels */
  width: number;
  height: number;
}

export interface Drawn {
  looks: readonly TakeLook[];
  /** where each take is, by its position */
  takes: ReadonlyMap<number, Range>;
  cuts: readonly Range[];
  /** in order */
  words: readonly Words[];
  hasSound: boolean;
  colours: { ink: string; wave: string; sound: string; out: string; ground: string };
}

/** Steps of the ruler, in seconds: the smallest that leaves room for its words. */
const STEPS = [0.1, 0.2, 0.5, 1, 2, 5, 10, 15, 30, 60, 120, 300, 600, 1800, 3600];
const ROOM_FOR_WORDS = 70;
const ROOM_FOR_A_WORD = 28;

/** Draws the part of the line that is seen: ruler, pictures, sounds, and what is left out. */
export function drawLine(pen: CanvasRenderingContext2D, view: View, drawn: Drawn): void {
  const { width, height, from, to } = view;
  const x = (at: Micros) => ((at - from) / (to - from)) * width;
  pen.clearRect(0, 0, width, height);
  drawRuler(pen, view, x, drawn.colours.ink);
  for (const look of drawn.looks) {
    const take = drawn.takes.get(look.position);
    if (!take || take.to < from || take.from > to) continue;
    if (look.strip) drawFilm(pen, view, take, look.strip, x);
    if (look.voice) drawWave(pen, view, take, look.voice, RULER + FILM, drawn.colours.wave);
    if (look.sound && drawn.hasSound) drawWave(pen, view, take, look.sound, RULER + FILM + WAVE, drawn.colours.sound);
  }
  drawWords(pen, view, drawn, x);
  for (const take of drawn.takes.values()) {
    if (take.from <= from || take.from >= to) continue;
    pen.fillStyle = drawn.colours.ink;
    pen.fillRect(Math.round(x(take.from)) - 1, 0, 2, height);
  }
  drawCuts(pen, view, drawn, x);
}

function drawRuler(pen: CanvasRenderingContext2D, { from, to, width }: View, x: (at: Micros) => number, ink: string) {
  const perSecond = (width * SECOND) / (to - from);
  const step = (STEPS.find((s) => s * perSecond >= ROOM_FOR_WORDS) ?? STEPS.at(-1)!) * SECOND;
  pen.fillStyle = ink;
  pen.font = '12px "Atkinson Hyperlegible Next", Verdana, sans-serif';
  pen.textBaseline = "middle";
  for (let at = Math.floor(from / step) * step; at <= to; at += step) {
    const left = Math.round(x(at));
    pen.fillRect(left, RULER - 6, 1, 6);
    const words = step < SECOND ? `${formatClock(at)}.${Math.round((at % SECOND) / (SECOND / 10))}` : formatClock(at);
    pen.fillText(words, left + 4, RULER / 2);
  }
}

function drawFilm(
  pen: CanvasRenderingContext2D,
  { from, to, width }: View,
  take: Range,
  { image, pictures }: NonNullable<TakeLook["strip"]>,
  x: (at: Micros) => number,
) {
  const wide = (FILM * pictures.width) / pictures.height;
  const [left, right] = [Math.max(0, x(take.from)), Math.min(width, x(take.to))];
  // From the beginning of the take, so that pictures move with what is scrolled.
  const first = Math.floor((left - x(take.from)) / wide);
  for (let n = first; x(take.from) + n * wide < right; n++) {
    const at = x(take.from) + n * wide;
    const moment = from + ((at + wide / 2) / width) * (to - from) - take.from;
    const i = Math.max(
      0,
      lastAt(0, pictures.at.length, (k) => pictures.at[k]! <= moment),
    );
    const [column, row] = [i % pictures.columns, Math.floor(i / pictures.columns)];
    const shown = Math.min(wide, right - at);
    const part = (pictures.width * shown) / wide;
    pen.drawImage(image, column * pictures.width, row * pictures.height, part, pictures.height, at, RULER, shown, FILM);
  }
}

function drawWave(
  pen: CanvasRenderingContext2D,
  { from, to, width }: View,
  take: Range,
  levels: Int8Array,
  top: number,
  colour: string,
) {
  const perPixel = (to - from) / width;
  const middle = top + WAVE / 2;
  pen.fillStyle = colour;
  const index = (at: Micros) => ((at - take.from) * LEVELS_A_SECOND) / SECOND;
  const [left, right] = [
    Math.max(0, Math.floor((take.from - from) / perPixel)),
    Math.min(width, Math.ceil((take.to - from) / perPixel)),
  ];
  for (let pixel = left; pixel < right; pixel++) {
    const begin = Math.max(0, Math.floor(index(from + pixel * perPixel)));
    const end = Math.min(levels.length, Math.max(begin + 1, Math.ceil(index(from + (pixel + 1) * perPixel))));
    let loudest = FLOOR;
    for (let i = begin; i < end; i++) if (levels[i]! > loudest) loudest = levels[i]!;
    const half = Math.max(0.5, ((loudest - FLOOR) / -FLOOR) ** 2 * (WAVE / 2 - 2));
    pen.fillRect(pixel, middle - half, 1, 2 * half);
  }
}

/** As much of what is said as there is room for; nothing where that is less than a word. */
function drawWords(
  pen: CanvasRenderingContext2D,
  { from, to, width, height }: View,
  { words, colours }: Drawn,
  x: (at: Micros) => number,
) {
  pen.fillStyle = colours.ink;
  pen.font = '12px "Atkinson Hyperlegible Next", Verdana, sans-serif';
  pen.textBaseline = "middle";
  const first = Math.max(
    0,
    lastAt(0, words.length, (i) => words[i]!.from <= from),
  );
  for (let i = first; i < words.length && words[i]!.from < to; i++) {
    const { from: begins, to: ends, text } = words[i]!;
    const [left, right] = [x(begins), Math.min(width, x(ends))];
    pen.fillRect(Math.round(left), height - WORDS, 1, WORDS);
    if (right - left < ROOM_FOR_A_WORD) continue;
    pen.save();
    pen.beginPath();
    pen.rect(left, height - WORDS, right - left - 4, WORDS);
    pen.clip();
    pen.fillText(text, left + 4, height - WORDS / 2);
    pen.restore();
  }
}

/** Left out: pale and hatched, so that it is told without its colour. */
function drawCuts(pen: CanvasRenderingContext2D, view: View, { cuts, colours }: Drawn, x: (at: Micros) => number) {
  const { from, to, height } = view;
  const first = Math.max(
    0,
    lastAt(0, cuts.length, (i) => cuts[i]!.from <= from),
  );
  for (let i = first; i < cuts.length && cuts[i]!.from < to; i++) {
    const [left, right] = [Math.max(0, x(cuts[i]!.from)), Math.min(view.width, x(cuts[i]!.to))];
    if (right <= left) continue;
    const wide = Math.max(1, right - left);
    pen.save();
    pen.beginPath();
    pen.rect(left, RULER, wide, height - RULER);
    pen.clip();
    pen.globalAlpha = 0.72;
    pen.fillStyle = colours.ground;
    pen.fillRect(left, RULER, wide, height - RULER);
    pen.globalAlpha = 1;
    pen.strokeStyle = colours.out;
    pen.lineWidth = 1.5;
    pen.beginPath();
    for (let at = left - height; at < right; at += 9) {
      pen.moveTo(at, height);
      pen.lineTo(at + height, 0);
    }
    pen.stroke();
    pen.restore();
  }
}
