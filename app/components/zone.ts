/** Where the person is, by the IANA name of their time zone: their days end there, and their clock is. */
export const zoneHere = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone;

/** The cookie by which the server knows it, where days are counted there. */
export const ZONE_COOKIE = "zone";

/** Tells the server of it from the next request on. */
export function tellZone(): void {
  const attributes = `Path=/; Max-Age=${365 * 24 * 3600}; SameSite=Lax`;
  document.cookie = `${ZONE_COOKIE}=${zoneHere()}; ${attributes}`;
}
