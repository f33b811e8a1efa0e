/** The calendar day where the server stands, `2026-11-30`: what is needed by a day is late when that day is over. */
export function today(): string {
  const now = new Date();
  return `${now.getFullYear()}-${String(now.getMonth() + 1).padStart(2, "0")}-${String(now.getDate()).padStart(2, "0")}`;
}
