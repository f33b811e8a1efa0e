/** What of the Answers place is shown. */
export const SHOWS = ["all", "unread", "owed", "unclear", "questions"] as const;
export type Show = (typeof SHOWS)[number];
