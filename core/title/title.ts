import type { TakeSource } from "../media/tracks";

const WHAT: Record<TakeSource, string> = {
  "screen-camera": "Screen and camera",
  screen: "Screen",
  camera: "Camera",
  voice: "Voice",
};
const DAYS = ["Sunday", "Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday"];
const MONTHS = "January February March April May June July August September October November December".split(" ");

/** The moment on the recording person's own clock. `month` counts from 0 and `weekday` from Sunday, as in `Date`. */
export interface LocalMoment {
  weekday: number;
  day: number;
  month: number;
  hour: number;
  minute: number;
}

/**
 * A title that tells recordings apart until a person gives a better one: `Screen and camera, Tuesday 24 November,
 * 14:05`.
 */
export function proposeTitle(source: TakeSource, at: LocalMoment): string {
  const clock = `${at.hour}:${String(at.minute).padStart(2, "0")}`;
  return `${WHAT[source]}, ${DAYS[at.weekday]} ${at.day} ${MONTHS[at.month]}, ${clock}`;
}

export const TITLE_MAX = 160;

/** A title as it is kept: one line, no control characters, no doubled spaces. Empty when nothing is left. */
export function tidyTitle(text: string): string {
  return text
    .normalize("NFC")
    .replace(/[\p{Cc}\p{Cf}\s]+/gu, " ")
    .trim();
}
