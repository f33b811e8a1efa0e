import type { Micros } from "../time/micros";

/** The five reactions. Each says one thing about one moment. */
export const REACTIONS = ["got-it", "not-clear", "good-point", "smile", "thanks"] as const;
export type ReactionKind = (typeof REACTIONS)[number];
export const REACTION_NAMES: Record<ReactionKind, string> = {
  "got-it": "Got it",
  "not-clear": "Not clear",
  "good-point": "Good point",
  smile: "Smile",
  thanks: "Thanks",
};

/** What the sender needs back. */
export const ASK_KINDS = ["nothing", "nod", "choice", "words"] as const;
export type AskKind = (typeof ASK_KINDS)[number];

export interface Ask {
  kind: AskKind;
  /** what is asked, in the sender's words; may be empty for a nod */
  question: string;
  /** for a choice: 2 to 5 */
  choices: string[];
  /** the day by which it is needed, `2026-11-30`; null for no day */
  due: string | null;
  /** when that day is over where the sender is, ms since 1970; null for no day */
  dueEnds: number | null;
  /** no answer is given or changed any more */
  closed: boolean;
  /** another one whenever something else is asked: an answer names the version that it answers */
  version: number;
  /** another one whenever it is written, in whatever way: who writes it names the one that they have seen */
  edit: number;
  /** whoever has not answered is reminded by itself, the day before it is needed */
  reminds: boolean;
}

/** An ask as the sender writes it. */
export interface NewAsk extends Pick<Ask, "kind" | "question" | "choices" | "due">, Partial<Pick<Ask, "reminds">> {
  /** the sender's time zone, by its IANA name: a day ends where they are */
  zone: string;
}

export const NOTHING_ASKED: Ask = {
  kind: "nothing",
  question: "",
  choices: [],
  due: null,
  dueEnds: null,
  closed: false,
  version: 0,
  edit: 0,
  reminds: false,
};

/** What is missing in an ask before it can be asked; null when nothing is. */
export function askProblem({ kind, question, choices }: Pick<Ask, "kind" | "question" | "choices">): string | null {
  const filled = choices.map((c) => c.trim()).filter((c) => c !== "");
  if (kind === "choice" && (filled.length < 2 || filled.length > 5)) return "Give 2 to 5 choices.";
  if (kind === "choice" && new Set(filled).size < filled.length) return "Two choices are the same.";
  if ((kind === "choice" || kind === "words") && question.trim() === "") return "Write what you ask.";
  return null;
}

/** What a viewer gives back. "Not clear yet" may be said whatever was asked. */
export type Answer =
  | { kind: "nod" }
  | { kind: "not-clear"; at: Micros; words: string }
  | { kind: "choice"; choice: number }
  | { kind: "words"; words: string };

/** An answer, and the version of the ask that it was given to. */
export interface Given {
  answer: Answer;
  version: number;
}

/** Is this an answer to what is asked now? One to an earlier question is none. The one definition of *answered*. */
export const isCurrent = (ask: Pick<Ask, "version">, given: Pick<Given, "version"> | null): boolean =>
  given !== null && ask.version > 0 && given.version === ask.version;

/** Does this answer what is asked? `null` when it does, else what is wrong with it. */
export function refusalOf(ask: Ask, { answer, version }: Given): string | null {
  if (ask.kind === "nothing") return "Nothing is asked for this recording.";
  if (version !== ask.version) return "The sender asks something else now. Look at the question again.";
  if (ask.closed) return "The sender has closed this question. Your answer stays as it was.";
  if (answer.kind === "not-clear") return null;
  if (answer.kind !== ask.kind) return "This is not what the sender asks now. Look at the question again.";
  if (answer.kind === "choice" && !(answer.choice >= 0 && answer.choice < ask.choices.length))
    return "Choose one of the answers.";
  return null;
}

/** One line that says an answer. */
export function sayAnswer(ask: Ask, answer: Answer): string {
  if (answer.kind === "nod") return "Nodded";
  if (answer.kind === "not-clear") return answer.words ? `Not clear yet: ${answer.words}` : "Not clear yet";
  return answer.kind === "choice" ? (ask.choices[answer.choice] ?? "A choice that is gone") : answer.words;
}
