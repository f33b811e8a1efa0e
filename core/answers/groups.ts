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

/** Is an answer late? The day it was needed by has to be over, on the asker's calendar. Both days as `2026-11-30`. */
export function isOverdue(group: Group, due: string | null, today: string): boolean {
  return group !== "answered" && due !== null && today > due;
}
