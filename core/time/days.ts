import dayjs from "dayjs";
import timezone from "dayjs/plugin/timezone.js";
import utc from "dayjs/plugin/utc.js";

dayjs.extend(utc);
dayjs.extend(timezone);

const NAMED = "YYYY-MM-DD";

/**
 * Where a day begins in a zone, in ms since 1970. Zones are reckoned with here and never by the database: what a
 * browser calls its own (`Asia/Calcutta`, say) may have another name by then.
 * @param day `2026-11-30`
 * @param zone an IANA name that this runtime knows
 */
export const dayBegins = (day: string, zone: string): number => dayjs.tz(`${day} 00:00`, zone).valueOf();

/** Where a day has ended in a zone, in ms since 1970: days are 23 to 25 hours long. */
export const dayEnds = (day: string, zone: string): number =>
  dayBegins(dayjs.utc(day).add(1, "day").format(NAMED), zone);

/** Where so many days begin in a zone, in ms since 1970: the last one is that of `now`. */
export function lastDays(now: number, zone: string, count: number): number[] {
  const today = dayjs.utc(dayjs(now).tz(zone).format(NAMED));
  return Array.from({ length: count }, (_, i) => dayBegins(today.subtract(count - 1 - i, "day").format(NAMED), zone));
}

/** The hour that clocks of a zone show, from 0. @param at ms since 1970 */
export const hourAt = (at: number, zone: string): number => dayjs(at).tz(zone).hour();

/** The first moment after `at` when clocks of a zone show a full hour; on a day of the week, where one is given. */
export function nextHour(hour: number, at: number, zone: string, weekday?: number): number {
  const today = dayjs.utc(dayjs(at).tz(zone).format(NAMED));
  for (let days = 0; ; days++) {
    const day = today.add(days, "day");
    if (weekday !== undefined && day.day() !== weekday) continue;
    const moment = dayjs.tz(`${day.format(NAMED)} ${String(hour).padStart(2, "0")}:00`, zone).valueOf();
    if (moment > at) return moment;
  }
}
