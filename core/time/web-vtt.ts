import { MILLISECOND, type Micros } from "./micros";

/** A line of text that stands over a stretch. */
export interface Cue {
  from: Micros;
  to: Micros;
  text: string;
}

/** Captions as WebVTT (W3C), which has no way to write an empty line, or the arrow, within a cue. */
export function writeWebVtt(cues: readonly Cue[]): string {
  const blocks = cues
    .map(({ text, ...cue }) => ({
      ...cue,
      text: text
        .replaceAll(/\s*\n\s*/g, "\n")
        .replaceAll("-->", "->")
        .trim(),
    }))
    .filter(({ text }) => text !== "")
    .map(({ from, to, text }) => `${clockOf(from)} --> ${clockOf(to)}\n${escaped(text)}\n`);
  return ["WEBVTT\n", ...blocks].join("\n");
}

/** `hh:mm:ss.ttt` */
function clockOf(at: Micros): string {
  const ms = Math.round(at / MILLISECOND);
  const part = (n: number, digits = 2) => String(n).padStart(digits, "0");
  const seconds = Math.floor(ms / 1000);
  const minutes = Math.floor(seconds / 60);
  return `${part(Math.floor(minutes / 60))}:${part(minutes % 60)}:${part(seconds % 60)}.${part(ms % 1000, 3)}`;
}

const NAMES: Record<string, string> = { "&": "&amp;", "<": "&lt;", ">": "&gt;" };
const escaped = (text: string) => text.replaceAll(/[&<>]/g, (character) => NAMES[character]!);
