/** Where the person is, by the IANA name of their time zone: their days end there, and their clock is. */
export const zoneHere = (): string => Intl.DateTimeFormat().resolvedOptions().timeZone;
