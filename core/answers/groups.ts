import type { Ask } from "./kinds";

/** What is known of one person who was invited, or who opened the link. */
export interface Standing {
  opened: boolean;
  watched: boolean;
  answered: boolean;
}

export const GROUPS = ["answered", "watched", "opened", "not-opened"] as const;
export type Group = (typeof GROUPS)[number];
export const GROUP_NAMES: Record<Group, string> = {
  answered: "Answered",
  watched: "Watched, not answered",
  opened: "Opened",
  "not-opened": "Not opened",
};

/** The one group a person stands in: the furthest they have come. */
export function groupOf({ opened, watched, answered }: Standing): Group {
  if (answered) return "answered";
  if (watched) return "watched";
  return opened ? "opened" : "not-opened";
}

/**
 * Is somebody who was asked late? The one definition of *overdue*; the database has the same in `ask_standings`.
 * @param now ms since 1970
 */
export function isOverdue(group: Group, ask: Pick<Ask, "dueEnds" | "closed">, now: number): boolean {
  return group !== "answered" && !ask.closed && ask.dueEnds !== null && now >= ask.dueEnds;
}
