/**
 * Rows as comma-separated values. Source: RFC 4180 (CRLF; fields with commas, quotes or line ends in quotes, quotes
 * doubled).
 * What a spreadsheet would take for a formula gets an apostrophe before it (OWASP, CSV injection).
 */
export function writeCsv(rows: readonly (readonly (string | number | null)[])[]): string {
  return rows.map((row) => row.map(field).join(",") + "\r\n").join("");
}

function field(value: string | number | null): string {
  if (value === null) return "";
  if (typeof value === "number") return String(value);
  const safe = /^[=+\-@\t\r]/.test(value) ? `'${value}` : value;
  return /[",\r\n]/.test(safe) ? `"${safe.replaceAll('"', '""')}"` : safe;
}
