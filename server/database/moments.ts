/** A column with a moment, as JSON has it: ISO 8601, in UTC, with milliseconds. For statements whose rows go out. */
export const isoOf = (moment: string): string =>
  `to_char(${moment} at time zone 'UTC', 'YYYY-MM-DD"T"HH24:MI:SS.MS"Z"')`;
