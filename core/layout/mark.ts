import { MILLISECOND, type Micros } from "../time/micros";

/** What can be drawn with. */
export const TOOLS = ["pen", "highlighter", "arrow", "box", "ellipse", "number", "text"] as const;
export type Tool = (typeof TOOLS)[number];
/** What is put on while editing, and not drawn: a picture between two points. */
export const PUT_TOOLS = [...TOOLS, "picture"] as const;
export type PutTool = (typeof PUT_TOOLS)[number];

/** Told apart by lightness as well as by hue; whatever they lie on, an outline sets them off. */
export const MARK_COLOURS = ["clay", "marigold", "leaf", "ink"] as const;
export type MarkColour = (typeof MARK_COLOURS)[number];

/** sRGB; lighter and darker than those of the pages where two would look alike to many eyes. */
export const COLOUR_OF: Record<MarkColour, string> = {
  clay: "#B4502D",
  marigold: "#F5C767",
  leaf: "#4FA37B",
  ink: "#16302B",
};
/** The outline of every mark, light within dark: one of the two shows on any picture. */
export const OUTLINE = { inner: "#F7F5EF", outer: "#16302B" };

/** How many points a mark's path has at the most. */
export const MOST_POINTS = 200;
export const MARK_TEXT_MAX = 80;
/** How many are put on a line while editing, and of how many points each: an edit keeps every step of them. */
export const MOST_PUT_ON = 200;
export const PUT_ON_POINTS = 64;
/** How many are drawn in a take: viewers get them all with the page. */
export const MOST_MARKS = 500;
/** The longest that a mark takes to draw, and that it stays when it fades: 10 minutes, in ms. */
export const MOST_DRAWN_MS = 600_000;

/** Something that the presenter drew on the main picture: a line, a shape between two points, or words at one. */
export interface Mark {
  tool: PutTool;
  colour: MarkColour;
  /** x and y in shares of the main picture, and ms since its first point, of one point after the other */
  path: number[];
  /** what is written; the number of a numbered one; the id of a picture; empty for the others */
  text: string;
  /** how long it stays after its last point, in ms; null until it is cleared */
  staysMs: number | null;
  /** when it was cleared, in the time of its take; null when it was not */
  clearedAt: Micros | null;
}

/** A mark where a viewer sees it. */
export interface ShownMark {
  id: string;
  /** its first point, in shown time; in a stretch that begins in the middle of it, before that */
  began: Micros;
  from: Micros;
  to: Micros;
  mark: Mark;
}

/** A mark at a moment: as much of it as is drawn by then, and how much it has faded. */
export interface SeenMark {
  id: string;
  mark: Mark;
  /** 1 is whole, 0 is gone */
  opacity: number;
}

/** What fades is gone after so long, and has been going for this last part of it. */
const FADE: Micros = 500 * MILLISECOND;
const TRIPLE = 3;

/** How long a mark took to draw, in ms. */
export const drawnMs = ({ path }: Mark): number => path.at(-1) ?? 0;

/** The moment from which a mark is not seen any more, in the time of its take; Infinity for never. */
export function endOf(at: Micros, mark: Mark): Micros {
  const faded = mark.staysMs === null ? Infinity : at + (drawnMs(mark) + mark.staysMs) * MILLISECOND;
  return Math.min(faded, mark.clearedAt ?? Infinity);
}

/** A path with every second point left out while it has too many; the first and the last one stay. */
export function thinned(path: readonly number[], most = MOST_POINTS): number[] {
  let points = [...path];
  while (points.length > TRIPLE * most) {
    const last = points.length / TRIPLE - 1;
    points = points.filter((_, i) => {
      const n = Math.floor(i / TRIPLE);
      return n % 2 === 0 || n === last;
    });
  }
  return points;
}

/** A mark in the time of its take, where nothing is left out. */
export const inTake = (id: string, at: Micros, mark: Mark): ShownMark => ({
  id,
  began: at,
  from: at,
  to: endOf(at, mark),
  mark,
});

/** What is seen of marks at a moment. @param marks in order of their beginning */
export function marksAt(marks: readonly ShownMark[], at: Micros): SeenMark[] {
  return marks.flatMap(({ id, began, from, to, mark }) => {
    if (at < from || at >= to) return [];
    const fades = mark.staysMs !== null && mark.clearedAt === null;
    const opacity = fades ? Math.min(1, (to - at) / FADE) : 1;
    return [{ id, opacity, mark: upTo(mark, (at - began) / MILLISECOND) }];
  });
}

/** As much of a mark as is drawn after so long: at least its first point. */
function upTo(mark: Mark, ms: number): Mark {
  if (drawnMs(mark) <= ms) return mark;
  let points = 1;
  while (mark.path[TRIPLE * points + 2]! <= ms) points++;
  return { ...mark, path: mark.path.slice(0, TRIPLE * points) };
}

/** The number that comes next, among marks that are there. */
export const nextNumber = (marks: readonly Mark[]): string =>
  String(Math.max(0, ...marks.map(({ tool, text }) => (tool === "number" ? Number(text) || 0 : 0))) + 1);
