/** Time in the whole project is an integer number of microseconds (the unit of WebCodecs). */
export type Micros = number;

export const SECOND: Micros = 1_000_000;
export const MILLISECOND: Micros = 1_000;

/** Seconds (a media element's unit) to microseconds, rounded to the nearest one. */
export function fromSeconds(seconds: number): Micros {
  return Math.round(seconds * SECOND);
}

/** Microseconds to seconds. */
export function toSeconds(micros: Micros): number {
  return micros / SECOND;
}

/** Ticks of a track to microseconds, rounded to the nearest one. @param timescale ticks of a second */
export const fromTicks = (ticks: number, timescale: number): Micros => Math.round((ticks * SECOND) / timescale);

/** Microseconds to ticks of a track, rounded to the nearest one. @param timescale ticks of a second */
export const toTicks = (micros: Micros, timescale: number): number => Math.round((micros * timescale) / SECOND);

/** Parts of a second are cut off, as on a clock; negative times and NaN are 0. Shown, said and marked up, it agrees. */
const wholeSeconds = (micros: Micros) => (Number.isFinite(micros) ? Math.max(0, Math.floor(micros / SECOND)) : 0);

/** A time as people read it: `0:07`, `1:04`, `1:02:03`. */
export function formatClock(micros: Micros): string {
  const whole = wholeSeconds(micros);
  const hours = Math.floor(whole / 3600);
  const minutes = Math.floor((whole % 3600) / 60);
  const seconds = String(whole % 60).padStart(2, "0");
  return hours > 0 ? `${hours}:${String(minutes).padStart(2, "0")}:${seconds}` : `${minutes}:${seconds}`;
}

/** A moment as somebody types it: seconds, `1:05` or `1:02:03`, each with a fraction. @returns null for what is none */
export function readClock(text: string): Micros | null {
  const [, hours, minutes, seconds] = /^(?:(?:(\d{1,3}):)?(\d{1,3}):)?(\d{1,6}(?:\.\d{0,6})?)$/.exec(text.trim()) ?? [];
  if (seconds === undefined || (minutes !== undefined && Number(seconds) >= 60)) return null;
  if (hours !== undefined && Number(minutes) >= 60) return null;
  return fromSeconds(Number(hours ?? 0) * 3600 + Number(minutes ?? 0) * 60 + Number(seconds));
}

/** The same in words, for screen readers and mail: `1 minute 4 seconds`. */
export function spokenLength(micros: Micros): string {
  const whole = wholeSeconds(micros);
  const parts: [number, string][] = [
    [Math.floor(whole / 3600), "hour"],
    [Math.floor((whole % 3600) / 60), "minute"],
    [whole % 60, "second"],
  ];
  const said = parts.filter(([n]) => n > 0).map(([n, unit]) => `${n} ${unit}${n === 1 ? "" : "s"}`);
  return said.length > 0 ? said.join(" ") : "0 seconds";
}

/** An ISO 8601 duration, for `<time datetime>`: `PT64S`. */
export function isoDuration(micros: Micros): string {
  return `PT${wholeSeconds(micros)}S`;
}

/** A short length in seconds and tenths; what is less than that is not called nothing. */
export const spokenSeconds = (length: Micros): string =>
  length > 0 && length < SECOND / 20 ? "less than 0.1 s" : `${(length / SECOND).toFixed(1)} s`;
