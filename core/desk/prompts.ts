import { POINT_MAX } from "../layout/entry";

/** One line of a list that a person keeps. */
export interface Line {
  id: string;
  text: string;
}

export const SCRIPT_SIZES = ["small", "medium", "large"] as const;
export type ScriptSize = (typeof SCRIPT_SIZES)[number];
/** Words a minute: from slow and clear to fast. Speech is at 120 to 160 (common practice, no published source). */
export const SPEEDS = [90, 110, 130, 150, 170] as const;
export type Speed = (typeof SPEEDS)[number];

export const SCRIPT_MAX = 20_000;
export const MOST_LINES = 40;

/** What only the presenter sees. It stays on this computer. */
export interface Prompts {
  /** what is to be said, in this order */
  points: Line[];
  script: string;
  size: ScriptSize;
  speed: Speed;
  /** what is to be seen to before recording */
  tidy: Line[];
}

export const USUAL_PROMPTS: Prompts = {
  points: [],
  script: "",
  size: "medium",
  speed: 130,
  tidy: [
    { id: "noise", text: "Programs that make a noise are closed" },
    { id: "alerts", text: "Alerts are off" },
    { id: "windows", text: "The right windows are open" },
  ],
};

export const wordsIn = (script: string): number => script.match(/\S+/g)?.length ?? 0;

/** How long a script takes to be said, in seconds. */
export const plannedSeconds = ({ script, speed }: Pick<Prompts, "script" | "speed">): number =>
  (60 * wordsIn(script)) / speed;

/** The same lines with one in another place. Unknown ids change nothing. */
export function moved(lines: readonly Line[], id: string, before: string): Line[] {
  const from = lines.findIndex((line) => line.id === id);
  const to = lines.findIndex((line) => line.id === before);
  if (from < 0 || to < 0) return [...lines];
  const rest = lines.filter((line) => line.id !== id);
  return [...rest.slice(0, to), lines[from]!, ...rest.slice(to)];
}

/** What was kept, as prompts: what is not known is as usual. */
export function readPrompts(kept: unknown): Prompts {
  const of = (kept ?? {}) as Partial<Record<keyof Prompts, unknown>>;
  const one = <T>(known: readonly T[], value: unknown, usual: T): T => known.find((k) => k === value) ?? usual;
  return {
    points: readLines(of.points) ?? USUAL_PROMPTS.points,
    script: typeof of.script === "string" ? of.script.slice(0, SCRIPT_MAX) : USUAL_PROMPTS.script,
    size: one(SCRIPT_SIZES, of.size, USUAL_PROMPTS.size),
    speed: one(SPEEDS, of.speed, USUAL_PROMPTS.speed),
    tidy: readLines(of.tidy) ?? USUAL_PROMPTS.tidy,
  };
}

function readLines(kept: unknown): Line[] | null {
  if (!Array.isArray(kept)) return null;
  const isLine = (line: Partial<Line> | null): line is Line =>
    typeof line?.id === "string" && typeof line.text === "string";
  return kept
    .filter(isLine)
    .slice(0, MOST_LINES)
    .map(({ id, text }) => ({ id, text: text.slice(0, POINT_MAX) }));
}
