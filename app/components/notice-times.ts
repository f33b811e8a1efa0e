import type { NoticeTime } from "#core/notices/wishes";

/** When something is mailed, in words. */
export const TIME_NAMES: Record<NoticeTime, string> = {
  now: "At once",
  day: "Once a day",
  week: "Once a week",
  never: "Never",
};
