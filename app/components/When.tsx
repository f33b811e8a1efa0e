import dayjs from "dayjs";
import { useSyncExternalStore } from "react";

const never = () => () => {};

/** False while the page is as the server sent it; the server does not know the reader's clock. */
export const useInBrowser = () =>
  useSyncExternalStore(
    never,
    () => true,
    () => false,
  );

/**
 * A moment as people say it, on the reader's own clock: today 14:05, yesterday 9:30, Tuesday 16:00, 3 October, 3
 * October 2025.
 */
export function saidDate(iso: string, now: dayjs.Dayjs = dayjs()): string {
  const at = dayjs(iso);
  const days = now.startOf("day").diff(at.startOf("day"), "day");
  if (days === 0) return `today ${at.format("H:mm")}`;
  if (days === 1) return `yesterday ${at.format("H:mm")}`;
  if (days > 1 && days < 7) return at.format("dddd H:mm");
  return at.format(at.year() === now.year() ? "D MMMM" : "D MMMM YYYY");
}

/** A moment that is near, ahead or past, on the reader's own clock: today 17:00, Friday 9:30, 3 December 12:00. */
export function saidMoment(at: number, now: dayjs.Dayjs = dayjs()): string {
  const moment = dayjs(at);
  const days = moment.startOf("day").diff(now.startOf("day"), "day");
  const time = moment.format("H:mm");
  if (days === 0) return `today ${time}`;
  if (days === 1) return `tomorrow ${time}`;
  if (days === -1) return `yesterday ${time}`;
  if (days > 1 && days < 7) return moment.format("dddd H:mm");
  return moment.format(moment.year() === now.year() ? "D MMMM H:mm" : "D MMMM YYYY H:mm");
}

/** How a moment is said on the reader's own clock; until the page is alive, as the server tells it. */
export function useSaidMoment(): (at: number) => string {
  const inBrowser = useInBrowser();
  return (at) => (inBrowser ? saidMoment(at) : new Date(at).toISOString().slice(0, 16));
}

/** A day without a time, `2026-11-30`, as people say it: today, tomorrow, Monday, 3 December. */
export function saidDay(day: string, now: dayjs.Dayjs = dayjs()): string {
  const at = dayjs(day);
  const days = at.diff(now.startOf("day"), "day");
  if (days === 0) return "today";
  if (days === 1) return "tomorrow";
  if (days === -1) return "yesterday";
  if (days > 1 && days < 7) return at.format("dddd");
  return at.format(at.year() === now.year() ? "D MMMM" : "D MMMM YYYY");
}

export function When({ at }: { at: string }) {
  const inBrowser = useInBrowser();
  return (
    <time dateTime={at} title={inBrowser ? dayjs(at).format("dddd D MMMM YYYY, H:mm") : undefined}>
      {inBrowser ? saidDate(at) : at.slice(0, 10)}
    </time>
  );
}

export function Day({ day }: { day: string }) {
  const inBrowser = useInBrowser();
  return <time dateTime={day}>{inBrowser ? saidDay(day) : day}</time>;
}
