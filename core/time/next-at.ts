/**
 * The next moment at which a clock shows a time: today, or tomorrow where that has passed.
 * @param clock `14:30`, as a time field gives it
 * @param now a moment on that clock; its zone is the person's
 * @returns null for what is no time
 */
export function nextAt(clock: string, now: Date): Date | null {
  const [, hours, minutes] = /^([01]\d|2[0-3]):([0-5]\d)$/.exec(clock) ?? [];
  if (hours === undefined) return null;
  const at = new Date(now.getFullYear(), now.getMonth(), now.getDate(), Number(hours), Number(minutes));
  if (at.getTime() > now.getTime()) return at;
  return new Date(now.getFullYear(), now.getMonth(), now.getDate() + 1, Number(hours), Number(minutes));
}
