/** After how many days without use recordings of a workspace are deleted, of which its owners choose. 0: never. */
export const UNUSED_DAYS = [0, 90, 180, 365, 730, 1825] as const;
export type UnusedDays = (typeof UNUSED_DAYS)[number];

/** So many days before, its sender is told. */
export const TOLD_DAYS_BEFORE = 14;

/** What is said of a recording that is deleted next. @param day the last on which it is there, as people say it */
export const sayUnused = (day: string): string =>
  `Nobody has used it for a long time. It stays until ${day}, and is deleted then, unless it is used or you let it stay.`;

/** So far is counted how many go next. */
export const MOST_GOING = 1_000;

/** The last whole day (UTC, `2026-12-12`) of something that goes at a moment, ISO 8601. */
export const lastDay = (goesAt: string): string => new Date(Date.parse(goesAt) - 1).toISOString().slice(0, 10);
