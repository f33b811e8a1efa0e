/** One cookie of a `Cookie` header (RFC 6265, 5.4). */
export function readCookie(header: string | undefined, name: string): string | null {
  for (const pair of header?.split(";") ?? []) {
    const eq = pair.indexOf("=");
    if (eq > 0 && pair.slice(0, eq).trim() === name) return pair.slice(eq + 1).trim();
  }
  return null;
}
